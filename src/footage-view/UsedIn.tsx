import { PageLink } from '@/interface/PageLink';

/** The crossings that use a shot or a sound, each with the way there. */
export function UsedIn({ crossings }: { crossings: readonly { id: string; name: string }[] }) {
  if (crossings.length === 0) return 'Not used yet';
  return crossings.map(({ id, name }, k) => (
    <span key={id}>
      {k === 0 ? 'In ' : ', '}
      <PageLink href={`/crossings/${id}`} style={{ color: 'inherit' }}>
        {name}
      </PageLink>
    </span>
  ));
}
