'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useSnackbar } from '@/interface/messages';
import dynamic from 'next/dynamic';
import { startTransition, useEffect, useState } from 'react';
import { setCrossing } from '@/core/actions/layer-actions';
import { isLarge } from '@/footage/work-copy';
import { sentenceOf } from '@/interface/api';
import { patiently } from '@/interface/patiently';
import { stopPosters } from '@/interface/posters';
import { KeysIcon, RedoIcon, UndoIcon } from '@/interface/icons';
import { NameInput } from '@/interface/NameInput';
import { TopBar } from '@/interface/TopBar';
import { firstPicture } from './view/first-picture';
import { startChecks } from './check/checks-store';
import { startCarrying } from './trace/carry-store';
import { toBegin } from './trace/begin-at-once';
import { narrowWindow } from './view/show';
import { useDocument } from './document/document-store';
import { resetExport } from './export/export-store';
import { Picture } from './picture/Picture';
import { PreviewClient } from './preview/preview-client';
import { hearStep, playTogether, startSound } from './sound/sound-client';
import { SaveMark } from './document/SaveMark';
import { ToolRow } from './picture/ToolRow';
import { crossingFrameIn, tracedNow } from './session/traced';
import { Transport } from './picture/Transport';
import { useKeys } from './keyboard/useKeys';
import { layoutOf } from '@/core/document/plans';
import { resetView, setView, useView, type ViewState } from './view/view-store';
import { edit } from './session/edit';

// Parts of the page that are loaded, and built, one after the other: none of them keeps it from answering for long.
const LaneStrip = dynamic(() =>
  patiently(() => import('./picture/LaneStrip').then((module) => module.LaneStrip)),
);
const KeyMap = dynamic(() => patiently(() => import('./keyboard/KeyMap').then((module) => module.KeyMap)));
const SetAsideList = dynamic(() =>
  patiently(() => import('./document/SetAsideList').then((module) => module.SetAsideList)),
);
const Sheet = dynamic(() => patiently(() => import('./sheet/Sheet').then((module) => module.Sheet)));
const Steps = dynamic(() => patiently(() => import('./Steps').then((module) => module.Steps)));

/** The order in which they come: the picture is there from the beginning. */
const stages = ['picture', 'sheet', 'steps', 'curve', 'dialogs'] as const;

/** ms by which the first picture goes before the other stages. */
const pictureFirst = 800;

/** How many of the stages are built. */
function useStages(): number {
  const [built, setBuilt] = useState(1);
  useEffect(() => {
    if (built >= stages.length) return;
    let here = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    // The picture comes first, but nobody waits for a slow one to see what else there is.
    void (built === 1 ? firstPicture(pictureFirst) : Promise.resolve()).then(() => {
      if (here) timer = setTimeout(() => startTransition(() => setBuilt(built + 1)), 30);
    });
    return () => {
      here = false;
      clearTimeout(timer);
    };
  }, [built]);
  return built;
}

/** The workspace of one crossing: steps, picture, sheet. */
export function Workspace({ crossingId }: { crossingId: string }) {
  const [failure, setFailure] = useState<string | null>(null);
  const [tries, setTries] = useState(0);
  const here = useDocument((state) => state.document?.crossing.id === crossingId);
  const [ready, setReady] = useState(false);

  // Also before the pictures of the page that was left are done.
  useEffect(stopPosters, []);
  useEffect(() => {
    setFailure(null);
    useDocument
      .getState()
      .open(crossingId)
      .then(
        () => {
          resetView(startFrame(), null);
          // As one comes from an older export, to make it again.
          if (window.location.hash === '#export') setView({ step: 'Export' });
          // As a new crossing is opened that is to be begun.
          if (window.location.hash === toBegin) setView({ step: 'Trace' });
          // So much is built at once that it is done in small parts, with the page free in between.
          startTransition(() => setReady(true));
        },
        (error: unknown) => setFailure(sentenceOf(error)),
      );
    return () => {
      resetExport();
      useDocument.getState().close();
      setReady(false);
    };
  }, [crossingId, tries]);

  return (
    <Box sx={{ height: '100vh', display: 'flex', flexDirection: 'column' }}>
      {here && ready ? (
        <Opened />
      ) : (
        <>
          <TopBar />
          <Box component="main" sx={{ m: 'auto', textAlign: 'center' }}>
            {failure ? (
              <Alert severity="error" action={<Button onClick={() => setTries(tries + 1)}>Try again</Button>}>
                {failure}
              </Alert>
            ) : (
              <CircularProgress aria-label="Opening the crossing" />
            )}
          </Box>
        </>
      )}
    </Box>
  );
}

/**
 * Where work goes on: the last pose of the first outline; where an edge never fills the frame, half-way from its opening
 * to its closing; else the middle of the crossing.
 */
function startFrame(): number {
  const traced = tracedNow();
  if (!traced) return 0;
  const { length } = traced.document.crossing;
  const { opens, closes } = Object.fromEntries(
    Object.values(traced.document.marks).map(({ kind, frame }) => [kind, frame]),
  );
  if (
    layoutOf(traced.document.crossing.plan).until !== 'fills' &&
    opens !== undefined &&
    closes !== undefined
  )
    return Math.floor((opens + closes) / 2);
  const poses = traced.document.poses[traced.outlines[0]?.id ?? ''] ?? [];
  if (poses.length === 0) return Math.floor(length / 2);
  return Math.min(length - 1, Math.max(0, crossingFrameIn(traced, poses[poses.length - 1].frame)));
}

function Opened() {
  const client = usePreview();
  const built = useStages();
  useWorkCopies();
  const keyboard = useKeys();
  const stepsFolded = useView((state) => state.stepsFolded);
  const sheetFolded = useView((state) => state.sheetFolded);
  const narrow = useMediaQuery(`(max-width: ${narrowWindow}px)`, { noSsr: true });
  const sheetNarrow = useView((state) => state.sheetNarrow) ?? narrow;
  const { document, history, notice, undo, redo, clearNotice, checkOtherWindows } = useDocument();
  const { enqueueSnackbar } = useSnackbar();
  const crossing = document!.crossing;
  useEffect(() => {
    const { document: now, shots } = useDocument.getState();
    if (!now) return undefined;
    const ends = [startChecks(now, shots), startCarrying(), startSound()];
    return () => ends.forEach((end) => end());
  }, [crossing.id]);

  useEffect(() => {
    if (!notice) return;
    enqueueSnackbar(notice, { variant: 'warning', autoHideDuration: 8000 });
    clearNotice();
  }, [notice, clearNotice, enqueueSnackbar]);
  useEffect(() => {
    const onFocus = () => void checkOtherWindows();
    window.addEventListener('focus', onFocus);
    return () => window.removeEventListener('focus', onFocus);
  }, [checkOtherWindows]);

  useEffect(() => {
    // A crossing made shorter takes the frame along.
    if (useView.getState().frame >= crossing.length) setView({ frame: crossing.length - 1 });
  }, [crossing.length]);

  const undoable = history.findLast((entry) => !entry.undone);
  const redoable = history.find((entry) => entry.undone);
  return (
    <>
      <TopBar>
        <NameInput
          value={crossing.name}
          label="Name of the crossing"
          onName={(name) => edit('Rename the crossing', setCrossing(document!, { name }))}
          sx={{
            fontWeight: 700,
            fontSize: 15,
            borderLeft: 1,
            borderColor: 'divider',
            pl: 2,
            minWidth: 80,
            flex: '0 1 320px',
          }}
        />
        <SaveMark />
        <Box sx={{ flex: 1 }} />
        <Tooltip title={undoable ? `Undo: ${undoable.label} (Ctrl Z)` : 'Nothing to undo'}>
          <span>
            <IconButton size="small" aria-label="Undo" disabled={!undoable} onClick={() => void undo()}>
              <UndoIcon />
            </IconButton>
          </span>
        </Tooltip>
        <Tooltip title={redoable ? `Redo: ${redoable.label} (Ctrl Shift Z)` : 'Nothing to redo'}>
          <span>
            <IconButton size="small" aria-label="Redo" disabled={!redoable} onClick={() => void redo()}>
              <RedoIcon />
            </IconButton>
          </span>
        </Tooltip>
        <Tooltip title="Keys (?)">
          <IconButton size="small" aria-label="Keys" onClick={() => setView({ keysShown: true })}>
            <KeysIcon />
          </IconButton>
        </Tooltip>
      </TopBar>
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        {!stepsFolded && (
          <Box
            sx={{
              width: narrow ? 232 : 252,
              flex: 'none',
              borderRight: 1,
              borderColor: 'divider',
              bgcolor: 'background.paper',
            }}
          >
            {built >= 3 && <Steps />}
          </Box>
        )}
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <ToolRow />
          <Picture holder={client.setHolder} />
          <Transport {...keyboard} />
          {built >= 4 ? <LaneStrip /> : <Box sx={{ height: 88, flex: 'none' }} />}
        </Box>
        {!sheetFolded && (
          <Box
            sx={{
              width: sheetNarrow ? 204 : 288,
              flex: 'none',
              borderLeft: 1,
              borderColor: 'divider',
              bgcolor: 'background.paper',
            }}
          >
            {built >= 2 && <Sheet client={client.current} narrow={sheetNarrow} />}
          </Box>
        )}
      </Box>
      {built >= 5 && (
        <>
          <KeyMap />
          <SetAsideList />
        </>
      )}
    </>
  );
}

/** ms between two looks whether a work copy is there. */
const lookEvery = 6000;

/** Takes over work copies of large shots as soon as they are made. */
function useWorkCopies() {
  const awaited = useDocument(({ shots }) =>
    shots.some(({ shot, work, stills }) => !work && !stills && isLarge(shot)),
  );
  useEffect(() => {
    if (!awaited) return;
    const timer = setInterval(() => void useDocument.getState().lookForWorkCopies(), lookEvery);
    return () => clearInterval(timer);
  }, [awaited]);
}

/** The preview worker and its canvas, alive as long as the crossing's set of shots stays the same. */
function usePreview() {
  const [current, setCurrent] = useState<PreviewClient | null>(null);
  const [holder, setHolder] = useState<HTMLDivElement | null>(null);
  const shotIds = useDocument((state) => state.shots.map(({ shot }) => shot.id).join());
  useEffect(() => {
    const { document, shots } = useDocument.getState();
    if (!holder || !document) return;
    // A canvas can be handed to a worker once: each worker gets a new one.
    const canvas = window.document.createElement('canvas');
    canvas.setAttribute('role', 'img');
    canvas.setAttribute('aria-label', 'The picture at the current frame');
    canvas.style.cssText = 'display:block;width:100%;height:100%;image-rendering:inherit';
    holder.replaceChildren(canvas);
    const client = new PreviewClient(canvas.transferControlToOffscreen(), document, shots);
    setCurrent(client);
    return () => client.close();
  }, [holder, shotIds]);

  // Not by rendering: the worker is told of every frame at once, whatever the page is busy with.
  useEffect(() => (current ? followView(current) : undefined), [current]);
  return { current, setHolder };
}

/** Keeps the preview at the frame and look that the view store holds, until the returned function is called. */
function followView(client: PreviewClient): () => void {
  const lookOf = (state: ViewState) => {
    const { view, quality, fineness, visible, solo, share, layerId, keyAlone, loupe } = state;
    const traced = tracedNow()?.layer.id ?? null;
    return {
      view,
      // The loupe shows the crossing's own pixels, however small the picture is.
      quality: loupe ? 1 : Math.min(quality, fineness),
      traced,
      other: layerId,
      visible,
      solo,
      share,
      keyAlone,
    };
  };
  const start = useView.getState();
  client.show(start.frame, lookOf(start));
  let stopPlaying: (() => void) | null = null;
  const stopFollowing = useView.subscribe((now, before) => {
    if (now.draft !== before.draft) client.setDraft(now.draft);
    const sameLook = (
      [
        'view',
        'quality',
        'fineness',
        'loupe',
        'visible',
        'solo',
        'share',
        'layerId',
        'tracedLayerId',
        'keyAlone',
      ] as const
    ).every((key) => now[key] === before[key]);
    if (now.playing !== before.playing) {
      stopPlaying?.();
      stopPlaying = now.playing ? playTogether(client) : null;
    }
    if (!now.playing && !before.playing && now.frame !== before.frame) hearStep(now.frame);
    if (!now.playing && (now.frame !== before.frame || !sameLook || before.playing))
      client.show(now.frame, lookOf(now));
    else if (now.playing && !sameLook) client.setLook(lookOf(now));
  });
  return () => {
    stopPlaying?.();
    stopFollowing();
  };
}
