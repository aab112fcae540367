'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { playedRange, markedFrame } from '@/core/document/document';
import type { CrossingDocument } from '@/core/document/tables';
import { sentenceOf } from '@/interface/api';
import { useSnackbar } from '@/interface/messages';
import { useDocument } from '../document/document-store';
import { NumberField } from '../fields/NumberField';
import { edit } from '../session/edit';
import { fadeBetween, fadeOneByOne, type NoPush, push } from './move-commands';
import { type RampLoss, remedyRamp, runReadyRamp } from './ramp-commands';

/** The two pushes, with what they do. */
const pushes = [
  {
    name: 'Push in through the opening',
    says: 'Enlarges until the frame lies within the opening of the traced shot, as it is on the last of these frames',
    back: false,
  },
  {
    name: 'Pull back out of it',
    says: 'Starts within the opening of the traced shot, as it is on the first of these frames, and comes to rest',
    back: true,
  },
];

/** What the shots beneath what is pushed do meanwhile. */
type Beneath = 'stays' | 'follows' | 'covers';
const beneathSays: readonly [Beneath, string][] = [
  ['stays', 'stay as they are'],
  ['follows', 'follow by a share'],
  ['covers', 'cover the opening'],
];

/** From and to as they were set in each crossing, while the page is open. */
const remembered = new Map<string, readonly [from: number, to: number]>();

/** Where a move most likely lies: where it was set before, else from the opening mark to the closing one, or to the end of what is played. */
export function stretchOf(document: CrossingDocument): [from: number, to: number] {
  const [first, last] = playedRange(document);
  const before = remembered.get(document.crossing.id);
  if (before && before[1] < document.crossing.length) return [...before];
  const from = Math.max(first, Math.min(last - 1, markedFrame(document, 'opens') ?? first));
  const to = Math.min(last, markedFrame(document, 'closes') ?? last);
  return [from, to > from ? to : last];
}

/** Moves that are worked out, over a stretch of frames. */
export function WorkedOut({ single, range }: { single: boolean; range: [number, number] }) {
  const { enqueueSnackbar } = useSnackbar();
  const [[from, to], setRange] = useState(range);
  const crossingId = useDocument((state) => state.document!.crossing.id);
  const remember = (next: [number, number]) => {
    remembered.set(crossingId, next);
    setRange(next);
  };
  const [beneath, setBeneath] = useState<Beneath>('stays');
  const [share, setShare] = useState(50);
  const [all, setAll] = useState(false);
  const length = useDocument((state) => state.document!.crossing.length);
  const say = (refusal: string | null) =>
    refusal && enqueueSnackbar(refusal, { variant: 'warning', autoHideDuration: 8000 });
  const [busy, setBusy] = useState(false);
  const [noPush, setNoPush] = useOffer<NoPush & { back: boolean }>();
  const go = async (back: boolean) => {
    setBusy(true);
    setNoPush(null);
    try {
      const along = beneath === 'covers' ? 'covering' : beneath === 'follows' ? share / 100 : 0;
      const refused = await push({ all, from, to, back, along });
      setNoPush(refused && { ...refused, back });
    } catch (error) {
      say(sentenceOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Box sx={{ display: 'grid', gap: 1.25, borderTop: 1, borderColor: 'divider', pt: 1.5 }}>
      <Box sx={{ fontWeight: 700, fontSize: 13 }}>Ready-made moves</Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <NumberField
          label="From frame"
          value={from}
          low={0}
          high={length - 1}
          whole
          onChange={(next) => remember([next, to])}
        />
        <NumberField
          label="To frame"
          value={to}
          low={0}
          high={length - 1}
          whole
          onChange={(next) => remember([from, next])}
        />
      </Box>
      <TextField
        select
        label="Push moves"
        value={all ? 'all' : 'traced'}
        onChange={(event) => setAll(event.target.value === 'all')}
      >
        <MenuItem value="traced">the traced shot</MenuItem>
        <MenuItem value="all">the whole picture</MenuItem>
      </TextField>
      {!all && <BeneathChoice {...{ beneath, share }} onChoose={setBeneath} onShare={setShare} />}
      {pushes.map(({ name, says, back }) => (
        <Button key={name} variant="outlined" title={says} loading={busy} onClick={() => void go(back)}>
          {name}
        </Button>
      ))}
      {noPush && (
        <Refused
          says={noPush.refusal}
          offers={noPush.remedy ? [`${noPush.remedy.does}, then ${noPush.back ? 'pull' : 'push'}`] : []}
          onTake={() => {
            const { does, changes } = noPush.remedy!;
            if (edit(does, changes)) void go(noPush.back);
          }}
          onClose={() => setNoPush(null)}
        />
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <Button variant="outlined" disabled={!single} onClick={() => say(fadeBetween(from, to, 'in'))}>
          Fade in
        </Button>
        <Button variant="outlined" disabled={!single} onClick={() => say(fadeBetween(from, to, 'out'))}>
          Fade out
        </Button>
      </Box>
      <Button
        variant="outlined"
        disabled={!single}
        title="The shot beneath, of the same footage, fades over 20 frames; as it has gone, the traced subject does"
        onClick={() => say(fadeOneByOne(from))}
      >
        Fade the background first
      </Button>
      <RampTheSpeed from={from} to={to} say={say} />
    </Box>
  );
}

function BeneathChoice({
  beneath,
  share,
  onChoose,
  onShare,
}: {
  beneath: Beneath;
  /** Percent. */
  share: number;
  onChoose(beneath: Beneath): void;
  onShare(share: number): void;
}) {
  return (
    <Box sx={{ display: 'grid', gap: 1.25 }}>
      <TextField
        select
        label="Shots beneath"
        value={beneath}
        onChange={(event) => onChoose(event.target.value as Beneath)}
      >
        {beneathSays.map(([name, says]) => (
          <MenuItem key={name} value={name}>
            {says}
          </MenuItem>
        ))}
      </TextField>
      {beneath === 'follows' && (
        <NumberField label="Share of the push" value={share} low={0} high={100} unit="%" onChange={onShare} />
      )}
    </Box>
  );
}

/** The ready ramp, and what is offered where the footage does not last for it. */
function RampTheSpeed({ from, to, say }: { from: number; to: number; say(refusal: string): void }) {
  const [loss, setLoss] = useOffer<RampLoss>();
  return (
    <>
      <Button
        variant="outlined"
        title="From its own speed to 340 %, as is common practice, and back, with rounded corners; its keys can be dragged afterwards"
        onClick={() => {
          const said = runReadyRamp(from, to);
          setLoss(typeof said === 'string' ? null : said);
          if (typeof said === 'string') say(said);
        }}
      >
        Ramp the speed
      </Button>
      {loss && (
        <Refused
          says={loss.says}
          offers={loss.remedies.map(({ does }) => does)}
          onTake={(k) => {
            remedyRamp(loss.remedies[k]);
            setLoss(null);
          }}
          onClose={() => setLoss(null)}
        />
      )}
    </>
  );
}

/** What is offered for the crossing as it is now; gone as soon as it is changed, since then it may no longer fit. */
function useOffer<T>(): [offer: T | null, offer: (next: T | null) => void] {
  const document = useDocument((state) => state.document);
  const [made, setMade] = useState<{ offer: T | null; document: CrossingDocument | null } | null>(null);
  const put = (offer: T | null) => setMade({ offer, document: useDocument.getState().document });
  return [made?.document === document ? made.offer : null, put];
}

/** Why something was not done, or what came of it, with what helps. @param onTake told which of the offers. */
function Refused({
  says,
  offers,
  onTake,
  onClose,
}: {
  says: string;
  offers: readonly string[];
  onTake(which: number): void;
  onClose(): void;
}) {
  return (
    <Alert severity="warning" icon={false} onClose={onClose} sx={{ px: 1, py: 0.25 }}>
      {says}
      {offers.map((offer, k) => (
        <Button
          key={offer}
          size="small"
          variant="outlined"
          color="inherit"
          sx={{ display: 'block', mt: 0.75 }}
          onClick={() => onTake(k)}
        >
          {offer}
        </Button>
      ))}
    </Alert>
  );
}
