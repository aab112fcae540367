'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import type { Partner } from '@/core/checks/partners';
import { proposedSize } from '@/core/actions/format-actions';
import { limits } from '@/core/model/limits';
import { cutText } from '@/core/document/within-limits';
import { beginsByItself } from '@/core/actions/first-outlines';
import { layoutOf, type PlanLayout, rolesOf } from '@/core/document/plans';
import { type Plan, planNames, type Role } from '@/core/model/choices';
import type { ShotListing } from '@/wire/answers';
import type { Rate } from '@/core/model/time';
import { call, sentenceOf } from '@/interface/api';
import { FormatChoice, type FrameSize } from '@/interface/FormatChoice';
import { stillRates } from '@/shots/rates';
import { intakesOf } from '@/footage/stills';
import { bringIn, useUploads } from '@/shots/uploads';
import { Uploads } from '@/shots/Uploads';
import { FittingShots } from './FittingShots';
import { type FromCut, FromTimeline } from './FromTimeline';
import { toDraft } from '@/workspace/draft/draft-at-once';
import { toBegin } from '@/workspace/trace/begin-at-once';
import { PlanDrawing } from './PlanDrawing';
import { ShotChoice } from './ShotChoice';

/** Stills brought in here run at this rate, as Footage has it by default. */
const stillRate = stillRates[2].rate;
/** ms between two looks whether a file has been converted. */
const lookAgain = 2000;

interface NewCrossingProps {
  /** The newest first. */
  shots: ShotListing[];
  /** A shot to begin with, as the outgoing one. */
  first?: string;
  onArrived(): void;
  onClose(): void;
}

/** Said where a file was refused and Create is pressed all the same. */
const fileRefused =
  'A file could not be brought in, so its place has another shot. Check the shots, then press Create again.';

type Chosen = Record<Role, string>;

/** A role that a file on its way is meant for. */
interface Awaited {
  role: Role;
  key: symbol;
  /** The file's. */
  name: string;
  shotId: string | null;
}

/**
 * The shots in their roles. Files brought in right here take the roles that they were meant for as they arrive; of the
 * two brought in last the older goes, the newer comes: the order in which they were chosen.
 */
function useChosenShots({ shots, first, onArrived }: NewCrossingProps, roles: readonly Role[]) {
  const begin = first ?? (shots[1] ?? shots[0])?.id ?? '';
  const rest = shots.filter(({ id }) => id !== begin);
  const [chosen, setChosen] = useState<Chosen>({
    outgoing: begin,
    incoming: rest[0]?.id ?? '',
    passing: rest[1]?.id ?? rest[0]?.id ?? '',
  });
  /** What files on their way are meant for, with the shot's id once they are in; one that is converted has none yet. */
  const [awaited, setAwaited] = useState<Awaited[]>([]);
  const known = useRef(new Set(shots.map(({ id }) => id)));
  const uploads = useUploads((state) => state.uploads);
  const converting = uploads.some(({ state }) => state === 'converting');
  useEffect(() => {
    const isIn = (wanted: string | null) => shots.some(({ id }) => id === wanted);
    const fresh = shots.filter(({ id }) => !known.current.has(id)).reverse();
    fresh.forEach(({ id }) => known.current.add(id));
    // What was converted is known by its file's name; so is what is listed before it is answered.
    const claimed = new Set(awaited.map(({ shotId }) => shotId));
    const unclaimed = fresh.filter(({ id }) => !claimed.has(id));
    const come = awaited.flatMap((each) => {
      const at = unclaimed.findIndex(({ originalName }) => originalName === each.name);
      const shotId = each.shotId ?? (at < 0 ? null : unclaimed.splice(at, 1)[0].id);
      return isIn(shotId) ? [{ ...each, shotId }] : [];
    });
    if (come.length === 0) return;
    setChosen((before) => ({
      ...before,
      ...Object.fromEntries(come.map(({ role, shotId }) => [role, shotId])),
    }));
    const done = new Set(come.map(({ key }) => key));
    setAwaited(awaited.filter(({ key }) => !done.has(key)));
  }, [shots, awaited]);
  useEffect(() => {
    if (!converting || awaited.length === 0) return;
    const timer = setInterval(onArrived, lookAgain);
    return () => clearInterval(timer);
  }, [converting, awaited.length, onArrived]);
  const take = (files: File[], role: Role, onGone: () => void) => {
    // Several files at once fill the roles from this one on.
    const order = [...roles.slice(roles.indexOf(role)), ...roles.slice(0, roles.indexOf(role))];
    const intakes = intakesOf(files);
    const meant = order
      .slice(0, intakes.length)
      .map((each, k) => ({ role: each, key: Symbol(each), name: intakes[k].name, shotId: null }));
    setAwaited((before) => [...before, ...meant]);
    void bringIn(files, stillRate, Infinity, onArrived, (which, taken) => {
      const ended = meant[which]?.key;
      if (!taken) {
        setAwaited((before) => before.filter(({ key }) => key !== ended));
        onGone();
      } else if ('id' in taken)
        setAwaited((before) =>
          before.map((each) => (each.key === ended ? { ...each, shotId: taken.id } : each)),
        );
    });
  };
  return { chosen, setChosen, take, coming: awaited.length > 0 };
}

/**
 * Does something at once, or as soon as the files on their way are in; where one of them was refused it is asked for once more, as the
 * shots are other ones than were meant.
 *
 * @param onGone told when it was not done for that.
 */
function useWhenIn(coming: boolean, act: () => Promise<void>, onGone: () => void) {
  const [waits, setWaits] = useState(false);
  const unseen = useRef(false);
  useEffect(() => {
    if (!waits || coming) return;
    setWaits(false);
    void act();
    // What is done is what holds once the last file has come.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [waits, coming]);
  const begin = () => {
    if (unseen.current) {
      unseen.current = false;
      onGone();
    } else if (coming) setWaits(true);
    else void act();
  };
  const stop = () => {
    setWaits(false);
    unseen.current = true;
  };
  return { waits, begin, stop };
}

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
  const [plan, setPlan] = useState<Plan>('pass-by');
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
        <RoleChoices {...{ shots, layout, chosen }} onChoose={setChosen} onFiles={takeIn} />
        <Uploads finished={false} />
        <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, rowGap: 1, '& > *': { flexGrow: 1 } }}>
          <FittingShots
            {...{ plan, shots, outgoing: chosen.outgoing }}
            isTaken={({ shot }) => shot.id === chosen.incoming}
            onTake={(partner) => {
              setChosen({ ...chosen, incoming: partner.shot.id });
              setCut(cutOfPartner(chosen.outgoing, partner));
            }}
          />
          <FromTimeline
            shots={shots}
            onTake={(taken) => {
              setCut(taken);
              if (taken) setChosen({ ...chosen, outgoing: taken.outgoing, incoming: taken.incoming });
            }}
          />
        </Box>
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
      label={`Begin for me: ${found} from what moves, with no point placed`}
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

function PlanChoice({ plan, onChoose }: { plan: Plan; onChoose(plan: Plan): void }) {
  return (
    <>
      <Box
        role="radiogroup"
        aria-label="Plan"
        sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 1, mt: 0.5 }}
      >
        {planNames.map((each) => (
          <PlanCard key={each} plan={each} chosen={each === plan} onChoose={onChoose} />
        ))}
      </Box>
      <Box sx={{ color: 'text.secondary', fontSize: 14 }}>{layoutOf(plan).says}</Box>
    </>
  );
}

function RoleChoices({
  shots,
  layout,
  chosen,
  onChoose,
  onFiles,
}: {
  shots: ShotListing[];
  layout: PlanLayout;
  chosen: Chosen;
  onChoose(chosen: Chosen): void;
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
          onChoose={(id) => onChoose({ ...chosen, [role]: id })}
          onFiles={(files) => onFiles(files, role)}
        />
      ))}
    </Box>
  );
}

function PlanCard({ plan, chosen, onChoose }: { plan: Plan; chosen: boolean; onChoose(plan: Plan): void }) {
  return (
    <ButtonBase
      role="radio"
      aria-checked={chosen}
      aria-label={plan}
      title={layoutOf(plan).says}
      onClick={() => onChoose(plan)}
      sx={{
        display: 'grid',
        gridTemplateColumns: '76px 1fr',
        gap: 1,
        p: 1,
        textAlign: 'left',
        alignContent: 'start',
        alignItems: 'start',
        border: 1,
        outline: chosen ? 2 : 0,
        outlineStyle: 'solid',
        outlineColor: 'primary.main',
        borderColor: chosen ? 'primary.main' : 'divider',
        borderRadius: 1,
        fontFamily: 'inherit',
      }}
    >
      <PlanDrawing plan={plan} width={76} />
      <Box sx={{ minWidth: 0 }}>
        <Box sx={{ fontWeight: 700, fontSize: 14 }}>{plan[0].toUpperCase() + plan.slice(1)}</Box>
      </Box>
    </ButtonBase>
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
