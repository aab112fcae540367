'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import type { ComponentProps } from 'react';

/**
 * A link to another page of Kiv, which is asked for as soon as it is pointed at: asking for all that are in view would take the
 * time in which a crossing shows its first picture.
 */
export function PageLink({ href, ...rest }: Omit<ComponentProps<typeof Link>, 'href'> & { href: string }) {
  const router = useRouter();
  const ask = () => router.prefetch(href);
  return <Link href={href} prefetch={false} onPointerEnter={ask} onFocus={ask} {...rest} />;
}
