'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useRouter } from 'next/navigation';
import { useRef, useState } from 'react';
import type { Partner } from '@/core/checks/partners';
import type { Stretch } from '@/core/actions/first-stretch';
import { proposedSize } from '@/core/actions/format-actions';
import { limits } from '@/core/model/limits';
import { cutText } from '@/core/document/within-limits';
import { beginsByItself } from '@/core/actions/first-outlines';
import { layoutOf, type PlanLayout, rolesOf } from '@/core/document/plans';
import type { Plan, Role } from '@/core/model/choices';
import type { ShotListing } from '@/wire/answers';
import type { Rate } from '@/core/model/time';
import { call, sentenceOf } from '@/interface/api';
import { FormatChoice, type FrameSize } from '@/interface/FormatChoice';
import { Uploads } from '@/shots/Uploads';
import { FittingShots } from './FittingShots';
import { type FromCut, FromTimeline } from './FromTimeline';
import { toDraft } from '@/workspace/draft/draft-at-once';
import { toBegin } from '@/workspace/trace/begin-at-once';
import { type Chosen, type ShotsToChoose, useChosenShots, useWhenIn } from './chosen-shots';
import { PlanChoice } from './PlanChoice';
import { ShotChoice } from './ShotChoice';

interface NewCrossingProps extends ShotsToChoose {
  /** As much of the first shot as is taken at first, and the plan that it looks like. */
  begin?: { stretch: Stretch; plan: Plan };
  onClose(): void;
}

/** Said where a file was refused and Create is pressed all the same. */
const fileRefused =
  'A file could not be brought in, so its place has another shot. Check the shots, then press Create again.';

/** Sizes and rates that the shots propose, the model's first: the outgoing one, or the traced one where that is a still. */
function proposalsOf(shots: readonly ShotListing[], chosen: Chosen, layout: PlanLayout) {
  const proposals = rolesOf(layout).flatMap((role) => {
    const shot = shots.find(({ id }) => id === chosen[role]);
    return shot ? [{ shot, role, by: `the ${role} shot` }] : [];
  });
  const [outgoing] = proposals;
  const model =
    outgoing && outgoing.shot.frameCount > 1
      ? outgoing
      : proposals.find(({ role }) => role === layout.traced);
  const modelFirst = model ? [model, ...proposals.filter((each) => each !== model)] : proposals;
  return {
    sizes: modelFirst.map(({ shot, by }) => ({ value: proposedSize(shot), by })),
    rates: modelFirst.map(({ shot, by }) => ({ value: shot.nominalRate, by })),
  };
}

/** Stretches of the shots that are still chosen; null where a timeline says by itself what it takes. */
function useStretches(chosen: Chosen, lined: FromCut | null, first: Stretch | null) {
  const [stretched, setStretched] = useState<Stretched>(
    first ? { outgoing: { shotId: chosen.outgoing, stretch: first } } : {},
  );
  const take = (role: Role, stretch: Stretch | null) =>
    setStretched({ ...stretched, [role]: { shotId: chosen[role], stretch } });
  return { stretches: lined && lined.timing.cut !== null ? null : stretchesOf(stretched, chosen), take };
}

/** As much of a shot as was chosen in a role. */
type Stretched = Partial<Record<Role, { shotId: string; stretch: Stretch | null }>>;

function stretchesOf(stretched: Stretched, chosen: Chosen): Partial<Record<Role, Stretch>> {
  const held = (Object.keys(stretched) as Role[]).flatMap((role) => {
    const { shotId, stretch } = stretched[role]!;
    return stretch && shotId === chosen[role] ? [[role, stretch]] : [];
  });
  return Object.fromEntries(held);
}

/** The timing of two shots of which the incoming one is slipped to where it fits best. */
function cutOfPartner(outgoing: string, { shot, settings }: Partner): FromCut {
  const plain = { speed: 100, reverse: false, holdFrom: null };
  return {
    outgoing,
    incoming: shot.id,
    timing: {
      outgoing: { ...plain, offset: 0 },
      incoming: { ...plain, offset: settings.offset ?? 0 },
      length: null,
      cut: null,
      edge: null,
    },
  };
}

/** Choosing the plan and the shots of a new crossing; files may be brought in right here. */
export function NewCrossing(props: NewCrossingProps) {
  const { shots, onClose } = props;
  const router = useRouter();
  const [plan, setPlan] = useState<Plan>(props.begin?.plan ?? 'pass-by');
  /** Whether the plan was chosen; else a draft may choose another. */
  const [planned, setPlanned] = useState(false);
  /** Whether Kiv is to make the first draft as soon as it is open. */
  const drafts = useRef(false);
  const [name, setName] = useState('');
  /** What a timeline's cut, or how well they fit, says of the two; gone as soon as another shot is chosen. */
  const [cut, setCut] = useState<FromCut | null>(null);
  /** Whether Kiv is to find the first outline as soon as it is open. */
  const [begun, setBegun] = useState(false);
  /** Frame rate and size as a person has chosen them; null: as the shots propose them. */
  const [chosenRate, setChosenRate] = useState<Rate | null>(null);
  const [chosenSize, setChosenSize] = useState<FrameSize | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const layout = layoutOf(plan);
  const roles = rolesOf(layout);
  const { chosen, setChosen, take, coming } = useChosenShots(props, roles);
  const { sizes, rates } = proposalsOf(shots, chosen, layout);
  const nameOf = (role: Role) => shots.find((shot) => shot.id === chosen[role])?.name ?? '';
  const suggested = `${nameOf('outgoing')} to ${nameOf('incoming')}`;
  const lined = cut?.outgoing === chosen.outgoing && cut.incoming === chosen.incoming ? cut : null;
  const { stretches, take: takeStretch } = useStretches(chosen, lined, props.begin?.stretch ?? null);

  const create = async () => {
    setBusy(true);
    try {
      const { id } = await call<{ id: string }>('/api/crossings', 'POST', {
        name: name.trim() || cutText(suggested, limits.name),
        plan,
        outgoingShotId: chosen.outgoing,
        incomingShotId: chosen.incoming,
        ...(roles.includes('passing') ? { passingShotId: chosen.passing } : {}),
        ...(lined ? { timing: lined.timing } : {}),
        ...(stretches ? { stretches } : {}),
        ...(chosenRate ? { rate: chosenRate } : {}),
        ...(chosenSize ? { size: chosenSize } : {}),
      });
      const draft = planned ? toDraft.asPlanned : toDraft.withPlan;
      const begin = begun && beginsByItself(plan) ? toBegin : '';
      router.push(`/crossings/${id}${drafts.current ? draft : begin}`);
    } catch (error) {
      setFailure(sentenceOf(error));
      setBusy(false);
    }
  };

  const { waits, begin, stop } = useWhenIn(coming, create, () => setFailure(fileRefused));
  const takeIn = (files: File[], role: Role) => take(files, role, stop);

  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>New crossing</DialogTitle>
      <DialogContent
        sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.5 }}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          if (event.dataTransfer.files.length > 0) takeIn([...event.dataTransfer.files], roles[0]);
        }}
      >
        <PlanChoice
          plan={plan}
          onChoose={(chosenPlan) => {
            setPlan(chosenPlan);
            setPlanned(true);
          }}
        />
        <RoleChoices
          {...{ shots, layout, chosen, stretches }}
          onChoose={setChosen}
          onStretch={takeStretch}
          onFiles={takeIn}
        />
        <Uploads without={['done']} />
        <LinedUpBy
          {...{ plan, shots, chosen }}
          onTake={(taken) => {
            setCut(taken);
            if (taken) setChosen({ ...chosen, outgoing: taken.outgoing, incoming: taken.incoming });
          }}
        />
        {lined && <TimingNote timing={lined.timing} />}
        <BeginChoice {...{ layout, begun }} onChoose={setBegun} />
        {rates.length > 0 && (
          <FormatChoice
            rate={chosenRate ?? rates[0].value}
            size={chosenSize ?? sizes[0].value}
            {...{ rates, sizes, onRate: setChosenRate, onSize: setChosenSize }}
          />
        )}
        <TextField
          label="Name"
          value={name}
          placeholder={suggested}
          onChange={(event) => setName(event.target.value)}
          slotProps={{ htmlInput: { maxLength: limits.name }, inputLabel: { shrink: true } }}
          fullWidth
        />
        {failure && <Alert severity="error">{failure}</Alert>}
      </DialogContent>
      <CreateButtons
        unready={busy || waits || (!coming && roles.some((role) => !chosen[role]))}
        waiting={waits ? (drafts.current ? 'draft' : 'create') : null}
        onClose={onClose}
        onCreate={(draft) => {
          drafts.current = draft;
          begin();
        }}
      />
    </Dialog>
  );
}

/** What lines the two shots up from the start: how well they fit, or a timeline. */
function LinedUpBy({
  plan,
  shots,
  chosen,
  onTake,
}: {
  plan: Plan;
  shots: ShotListing[];
  chosen: Chosen;
  onTake(cut: FromCut | null): void;
}) {
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, rowGap: 1, '& > *': { flexGrow: 1 } }}>
      <FittingShots
        {...{ plan, shots, outgoing: chosen.outgoing }}
        isTaken={({ shot }) => shot.id === chosen.incoming}
        onTake={(partner) => onTake(cutOfPartner(chosen.outgoing, partner))}
      />
      <FromTimeline shots={shots} onTake={onTake} />
    </Box>
  );
}

function BeginChoice({
  layout: { found },
  begun,
  onChoose,
}: {
  layout: PlanLayout;
  begun: boolean;
  onChoose(begun: boolean): void;
}) {
  if (!found) return null;
  return (
    <FormControlLabel
      control={<Checkbox size="small" checked={begun} onChange={(_, on) => onChoose(on)} />}
      label={`Begin for me: ${found}, with no points to place`}
      sx={{ '& .MuiFormControlLabel-label': { fontSize: 14 } }}
    />
  );
}

function CreateButtons({
  unready,
  waiting,
  onClose,
  onCreate,
}: {
  unready: boolean;
  /** What is done once the files are in. */
  waiting: 'draft' | 'create' | null;
  onClose(): void;
  onCreate(draft: boolean): void;
}) {
  return (
    <DialogActions>
      <Button onClick={onClose}>Cancel</Button>
      <Button variant="outlined" disabled={unready} onClick={() => onCreate(false)}>
        {waiting === 'create' ? 'Waiting for the files…' : 'Create'}
      </Button>
      <Button
        variant="contained"
        disabled={unready}
        title="Creates the crossing, and Kiv makes a first version to correct"
        onClick={() => onCreate(true)}
      >
        {waiting === 'draft' ? 'Waiting for the files…' : 'Draft it'}
      </Button>
    </DialogActions>
  );
}

function RoleChoices({
  shots,
  layout,
  chosen,
  stretches,
  onChoose,
  onStretch,
  onFiles,
}: {
  shots: ShotListing[];
  layout: PlanLayout;
  chosen: Chosen;
  /** Null: a timeline says it. */
  stretches: Partial<Record<Role, Stretch>> | null;
  onChoose(chosen: Chosen): void;
  onStretch(role: Role, stretch: Stretch | null): void;
  onFiles(files: File[], role: Role): void;
}) {
  const roles = rolesOf(layout);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: `repeat(${roles.length}, minmax(0, 1fr))`, gap: 1.5 }}>
      {roles.map((role) => (
        <ShotChoice
          key={role}
          role={role}
          says={
            role === layout.traced
              ? 'The moving edge is in this one'
              : role === 'incoming'
                ? 'What is seen after it'
                : 'What is seen before it'
          }
          shots={shots}
          chosen={chosen[role]}
          stretch={stretches ? (stretches[role] ?? null) : undefined}
          onChoose={(id) => onChoose({ ...chosen, [role]: id })}
          onStretch={(stretch) => onStretch(role, stretch)}
          onFiles={(files) => onFiles(files, role)}
        />
      ))}
    </Box>
  );
}

function TimingNote({ timing }: { timing: FromCut['timing'] }) {
  return (
    <Box sx={{ fontSize: 14 }} role="status">
      {timing.cut === null
        ? 'The incoming shot is slipped to where it fits best.'
        : `Slip and speed as the timeline has them: ${timing.length} frames, the cut on frame ${timing.cut}.`}
    </Box>
  );
}
