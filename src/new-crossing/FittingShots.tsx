'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useMemo, useState } from 'react';
import { type Partner, rankIncoming } from '@/core/checks/partners';
import type { Plan } from '@/core/model/choices';
import type { Shot } from '@/core/model/shot';
import { PartnerList } from '@/shots/PartnerList';
import { isToMeasure } from '@/shots/useMeasuring';
import { call, sentenceOf } from '@/interface/api';
import type { ShotListing, ShotMedia } from '@/wire/answers';

/** All footage by how well it would sit behind the outgoing shot, where a crossing is only being planned. */
export function FittingShots({
  plan,
  shots,
  outgoing,
  isTaken,
  onTake,
}: {
  plan: Plan;
  shots: readonly ShotListing[];
  /** Id of the outgoing shot. */
  outgoing: string;
  isTaken(partner: Partner): boolean;
  onTake(partner: Partner): void;
}) {
  const [open, setOpen] = useState(false);
  const [known, setKnown] = useState<ReadonlyMap<string, Shot>>(new Map());
  const [failure, setFailure] = useState<string | null>(null);
  const moving = shots.filter(({ frameCount }) => frameCount > 1);
  const wanted = moving.filter(({ id, hasMotion }) => hasMotion && !known.has(id)).map(({ id }) => id);
  const wants = wanted.join(' ');
  useEffect(() => {
    if (!open || failure || wants === '') return undefined;
    let gone = false;
    Promise.all(wants.split(' ').map((id) => call<ShotMedia>(`/api/shots/${id}`))).then(
      (answers) => {
        if (!gone)
          setKnown((now) => new Map([...now, ...answers.map(({ shot }) => [shot.id, shot] as const)]));
      },
      (error: unknown) => !gone && setFailure(sentenceOf(error)),
    );
    return () => {
      gone = true;
    };
  }, [open, failure, wants]);
  const beside = known.get(outgoing);
  const partners = useMemo(
    () => (open && beside ? rankIncoming(plan, beside, [...known.values()]) : []),
    [open, plan, beside, known],
  );
  if (moving.length < 2) return null;
  const unmeasured = moving.filter(isToMeasure).length;
  const other = shots.find(({ id }) => id === outgoing);
  const waits = !beside && other !== undefined && isToMeasure(other);
  if (!open)
    return (
      <Button sx={{ flexGrow: '0 !important' }} onClick={() => setOpen(true)}>
        Which shots fit behind it?
      </Button>
    );
  return (
    <Box
      component="section"
      aria-label="Shots that would fit"
      sx={{ display: 'grid', gap: 0.75, flexBasis: '100%' }}
    >
      <Box sx={{ fontSize: 13 }}>
        As the incoming shot, by movement, light and colour, behind “{other?.name ?? '–'}”, the best first:
      </Box>
      {!failure && wants !== '' && <LinearProgress aria-label="Looking through the footage" />}
      {failure && (
        <Alert severity="error" action={<Button onClick={() => setFailure(null)}>Try again</Button>}>
          {failure}
        </Alert>
      )}
      <PartnerList partners={partners} isTaken={isTaken} onTake={onTake} />
      {wants === '' && (!beside || unmeasured > 0) && (
        <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
          {other && other.frameCount < 2
            ? 'The outgoing shot is a still: there is no movement to go by.'
            : !beside
              ? `How the outgoing shot moves has not been measured yet${waits ? '; that is done while this page is open' : ': measure it under Line up'}.`
              : `${unmeasured} more ${unmeasured === 1 ? 'is' : 'are'} measured while this page is open.`}
        </Box>
      )}
    </Box>
  );
}
