'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useSnackbar } from '@/interface/messages';
import dynamic from 'next/dynamic';
import { type ReactNode, startTransition, useEffect, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { outlinesOfLayer } from '@/core/document/document';
import { tracedLayer } from '@/core/document/plans';
import { sentenceOf } from '@/interface/api';
import { patiently } from '@/interface/patiently';
import { stopPosters } from '@/interface/posters';
import { TopBar } from '@/interface/TopBar';
import { holdFinding } from '@/shots/found-crossings';
import { firstPicture } from './view/first-picture';
import { startChecks } from './check/checks-store';
import { isAskedToDraft } from './draft/draft-at-once';
import { resetDraft } from './draft/draft-store';
import { startCarrying } from './trace/carry-store';
import { toBegin } from './trace/begin-at-once';
import { narrowSheetUpTo } from './view/show';
import { narrowSheetWidth, shownColumns } from './sheet/shown-columns';
import { useDocument } from './document/document-store';
import { resetExport } from './export/export-store';
import { toTour } from './tour/tour-at-once';
import { Picture } from './picture/Picture';
import { startSound } from './sound/sound-client';
import { ToolRow } from './picture/ToolRow';
import { Transport } from './picture/Transport';
import { useKeys } from './keyboard/useKeys';
import { startFrame } from './session/start-frame';
import { usePreview } from './picture/usePreview';
import { readyPreview } from './preview/preview-client';
import { useWorkCopies } from './document/useWorkCopies';
import { CrossingBar } from './CrossingBar';
import { resetView, setView, useView } from './view/view-store';

// Parts of the page that are loaded, and built, one after the other: none of them keeps it from answering for long.
const LaneStrip = dynamic(() =>
  patiently(() => import('./picture/LaneStrip').then((module) => module.LaneStrip)),
);
const KeyMap = dynamic(() => patiently(() => import('./keyboard/KeyMap').then((module) => module.KeyMap)));
const SetAsideList = dynamic(() =>
  patiently(() => import('./document/SetAsideList').then((module) => module.SetAsideList)),
);
const Sheet = dynamic(() => patiently(() => import('./sheet/Sheet').then((module) => module.Sheet)));
const Tour = dynamic(() => patiently(() => import('./tour/Tour').then((module) => module.Tour)));
const Steps = dynamic(() => patiently(() => import('./Steps').then((module) => module.Steps)));

/** The order in which they come: the picture is there from the beginning. */
const stages = ['picture', 'sheet', 'steps', 'curve', 'dialogs'] as const;

/** ms by which the first picture goes before the other stages. */
const pictureFirst = 2500;

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

/** A crossing that is opened by its address: it is asked for, and its preview begins, before React has taken the page over. */
function openedEarly(): { crossingId: string; opening: Promise<void> } | null {
  if (typeof window === 'undefined') return null;
  const crossingId = /^\/crossings\/([^/]+)$/.exec(window.location.pathname)?.[1];
  if (!crossingId) return null;
  readyPreview();
  const opening = useDocument.getState().open(crossingId);
  // Said where it is shown.
  opening.catch(() => {});
  return { crossingId, opening };
}

let early = openedEarly();

/** Opens a crossing, or goes on with what has been begun. */
function open(crossingId: string): Promise<void> {
  const begun = early?.crossingId === crossingId ? early.opening : null;
  early = null;
  return begun ?? useDocument.getState().open(crossingId);
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
    holdFinding(true);
    return () => holdFinding(false);
  }, []);
  useEffect(() => {
    setFailure(null);
    // Its code and graphics begin while the crossing is on its way.
    readyPreview();
    open(crossingId).then(
      () => {
        resetView(startFrame(), null);
        // As one comes from an older export, to make it again.
        if (window.location.hash === '#export') setView({ step: 'Export' });
        // As a new crossing is opened that is to be begun.
        if (window.location.hash === toBegin) setView({ step: 'Trace' });
        resetDraft();
        if (isAskedToDraft()) setView({ step: 'Draft' });
        if (window.location.hash === toTour) setView({ step: 'Trace' });
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
              <Box role="status">Opening the crossing…</Box>
            )}
          </Box>
        </>
      )}
    </Box>
  );
}

/** Says once what the document has to say: what could not be saved, or was done in another window. */
function useNotices() {
  const notice = useDocument((state) => state.notice);
  const { enqueueSnackbar } = useSnackbar();
  useEffect(() => {
    if (!notice) return;
    enqueueSnackbar(notice, { variant: 'warning', autoHideDuration: 8000 });
    useDocument.getState().clearNotice();
  }, [notice, enqueueSnackbar]);
}

/** Checks, carrying and sound run beside the page while a crossing is open; other windows are looked at on return. */
function useCompanions(crossingId: string) {
  useEffect(() => {
    const { document, shots } = useDocument.getState();
    if (!document) return undefined;
    const ends = [startChecks(document, shots), startCarrying(), startSound()];
    return () => ends.forEach((end) => end());
  }, [crossingId]);
  useEffect(() => {
    const onFocus = () => void useDocument.getState().checkOtherWindows();
    window.addEventListener('focus', onFocus);
    return () => window.removeEventListener('focus', onFocus);
  }, []);
}

/** A crossing made shorter takes the frame along. */
function useFrameWithin(length: number) {
  useEffect(() => {
    if (useView.getState().frame >= length) setView({ frame: length - 1 });
  }, [length]);
}

/** Width of window, px, up to which the steps' column is narrower. */
const smallWindow = 1180;

/** As wide as the columns of a narrow sheet take. */
function useNarrowSheetWidth(): number {
  const inHand = useView((state) => state.layerId);
  // One number: the page is not made anew with every edit.
  return useDocument(({ document }) => {
    const traced = tracedLayer(document!);
    const outlines = traced ? outlinesOfLayer(document!, traced.id).length : 0;
    return narrowSheetWidth(shownColumns(document!, inHand).length, outlines);
  });
}

function Opened() {
  const crossingId = useDocument((state) => state.document!.crossing.id);
  const length = useDocument((state) => state.document!.crossing.length);
  const client = usePreview();
  const built = useStages();
  const keyboard = useKeys();
  useWorkCopies();
  useNotices();
  useCompanions(crossingId);
  useFrameWithin(length);
  const { stepsFolded, sheetFolded, sheetNarrow } = useView(
    useShallow(({ stepsFolded, sheetFolded, sheetNarrow }) => ({ stepsFolded, sheetFolded, sheetNarrow })),
  );
  const small = useMediaQuery(`(max-width: ${smallWindow}px)`, { noSsr: true });
  const narrowByDefault = useMediaQuery(`(max-width: ${narrowSheetUpTo}px)`, { noSsr: true });
  const narrow = sheetNarrow ?? narrowByDefault;
  const narrowWidth = useNarrowSheetWidth();
  return (
    <>
      <CrossingBar />
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        {!stepsFolded && (
          <Column side="left" width={small ? 256 : 266}>
            {built >= 3 && <Steps />}
          </Column>
        )}
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <ToolRow />
          <Picture holder={client.setHolder} />
          <Transport {...keyboard} />
          {built >= 4 ? <LaneStrip /> : <Box sx={{ height: 88, flex: 'none' }} />}
        </Box>
        {!sheetFolded && (
          <Column side="right" width={narrow ? narrowWidth : 288}>
            {built >= 2 && <Sheet client={client.current} narrow={narrow} />}
          </Column>
        )}
      </Box>
      {built >= 5 && (
        <>
          <KeyMap />
          <SetAsideList />
          <Tour />
        </>
      )}
    </>
  );
}

function Column({ side, width, children }: { side: 'left' | 'right'; width: number; children: ReactNode }) {
  const border = side === 'left' ? { borderRight: 1 } : { borderLeft: 1 };
  return (
    <Box sx={{ width, flex: 'none', ...border, borderColor: 'divider', bgcolor: 'background.paper' }}>
      {children}
    </Box>
  );
}
