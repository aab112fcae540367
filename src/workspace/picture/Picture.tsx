'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import dynamic from 'next/dynamic';
import { patiently } from '@/interface/patiently';
import {
  memo,
  type PointerEvent as ReactPointerEvent,
  type RefObject,
  type WheelEvent as ReactWheelEvent,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import { BothBar } from './BothBar';
import { centred, fitCamera, visiblePart, zoomedAt } from '../sight/camera';
import { useDocument } from '../document/document-store';
import { Loupe } from './Loupe';
import { SideNote } from '../hand/SideNote';
import { StripSheet } from '../check/StripSheet';
import { useSpaceBar } from '../keyboard/useKeys';
import { usePlumb } from '../line-up/plumb';
import { PlumbLines } from '../line-up/PlumbLines';
import { turnBrush } from '../trace/painting';
import { type Camera, setView, useView } from '../view/view-store';

/** Steps in which the picture's fineness follows the zoom, so that not every turn of the wheel draws anew at another size. */
const finenessSteps = 24;

/** @param fitted whether the frame is fitted to the window: then it is drawn pixel for pixel. */
function finenessOf(pixelsShown: number, fitted: boolean): number {
  const share = fitted ? pixelsShown : Math.ceil(pixelsShown * finenessSteps) / finenessSteps;
  return Math.min(1, Math.max(1 / finenessSteps, share));
}

const MoveFrame = dynamic(
  () => patiently(() => import('../move/MoveFrame').then((module) => module.MoveFrame)),
  {
    ssr: false,
  },
);
const Overlay = dynamic(() => patiently(() => import('../hand/Overlay').then((module) => module.Overlay)), {
  ssr: false,
});

/**
 * The picture on its pasteboard, with the outlines over it; zooms at the pointer, pans, fits.
 *
 * @param holder given the element that the picture's canvas belongs in.
 */
export const Picture = memo(function Picture({ holder }: { holder(element: HTMLDivElement | null): void }) {
  const theme = useTheme();
  const board = useRef<HTMLDivElement>(null);
  const crossing = useDocument((state) => state.document!.crossing);
  const set = useView((state) => state.camera);
  const failure = useView((state) => state.failure);
  const strips = useView((state) => state.strips);
  const loupe = useView((state) => state.loupe);
  const coming = useView((state) => state.shown === null);
  const spaceHeld = useSpaceBar();
  const size = useSize(board);
  const camera: Camera = useMemo(() => set ?? fitCamera(crossing, size), [set, crossing, size]);
  useToldPicture(board);
  useFullSize(board, crossing);
  useFineness(camera, size, set === null);
  const panning = usePanning(board, { camera, spaceHeld, still: strips });
  const plumbing = usePlumb(({ layerId }) => layerId !== null);
  const moving = useView(({ step, playing, strips: shown }) => step === 'Move' && !playing && !shown);

  return (
    <Box
      ref={board}
      data-testid="picture"
      {...panning}
      sx={{
        position: 'relative',
        flex: 1,
        minHeight: 0,
        overflow: 'hidden',
        bgcolor: theme.kiv.surround,
        cursor: spaceHeld ? 'grab' : undefined,
        touchAction: 'none',
        // A canvas over the picture costs with every frame that is played, though nothing is drawn on it.
        '& .resting canvas': { display: 'none !important' },
      }}
    >
      <Box
        ref={holder}
        data-picture
        className={coming ? 'kiv-coming' : undefined}
        sx={{
          position: 'absolute',
          transformOrigin: '0 0',
          boxShadow: '0 0 0 1px rgba(0,0,0,.55)',
          '& canvas': { visibility: coming ? 'hidden' : undefined },
        }}
        style={{
          left: camera.x,
          top: camera.y,
          width: crossing.width * camera.scale,
          height: crossing.height * camera.scale,
          imageRendering: camera.scale >= 3 ? 'pixelated' : 'auto',
        }}
      />
      {size.width > 0 && !plumbing && (
        <Overlay camera={camera} width={size.width} height={size.height} locked={spaceHeld} />
      )}
      {moving && <MoveFrame camera={camera} />}
      <PlumbLines camera={camera} />
      {coming && !failure && <BeingRead />}
      <BothBar />
      {!strips && <SideNote />}
      {loupe && !strips && <Loupe board={board} />}
      {strips && <StripSheet />}
      {failure && (
        <Alert
          severity="error"
          onClose={() => setView({ failure: null })}
          sx={{ position: 'absolute', left: 16, right: 16, bottom: 16 }}
        >
          {failure}
        </Alert>
      )}
    </Box>
  );
});

function BeingRead() {
  return (
    <Box
      role="status"
      sx={{
        position: 'absolute',
        inset: 0,
        display: 'grid',
        placeItems: 'center',
        pointerEvents: 'none',
        fontSize: 14,
      }}
    >
      <Box sx={{ px: 1.5, py: 0.75, bgcolor: 'background.paper', borderRadius: 1 }}>
        The picture is being read…
      </Box>
    </Box>
  );
}

interface Size {
  width: number;
  height: number;
}
type Board = RefObject<HTMLDivElement | null>;

/** The pasteboard's size on screen; nothing before it is measured. */
function useSize(board: Board): Size {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      setSize({ width, height });
    });
    observer.observe(board.current!);
    return () => observer.disconnect();
  }, [board]);
  return size;
}

/** Says on the element what its picture shows, past React: the picture is drawn by its worker. */
function useToldPicture(board: Board) {
  useEffect(
    () =>
      useView.subscribe(({ shown }) => {
        if (!board.current || !shown) return;
        board.current.dataset.shownFrame = String(shown.frame);
        board.current.dataset.shownMs = shown.milliseconds.toFixed(1);
        board.current.dataset.spent = JSON.stringify(shown.spent);
      }),
    [board],
  );
}

/** Shows one pixel of the crossing as one of the screen when that is asked for. */
function useFullSize(board: Board, crossing: Size) {
  useEffect(() => {
    const onFullSize = () => {
      const { clientWidth: width, clientHeight: height } = board.current!;
      setView({ camera: centred(crossing, { width, height }, 1 / (window.devicePixelRatio || 1)) });
    };
    window.addEventListener('kiv-full-size', onFullSize);
    return () => window.removeEventListener('kiv-full-size', onFullSize);
  }, [board, crossing]);
}

/** Keeps in the store how finely the picture is drawn, and which part of it is in the window. */
function useFineness(camera: Camera, size: Size, fitted: boolean) {
  useEffect(() => {
    if (size.width === 0) return;
    const pixelsShown = camera.scale * (window.devicePixelRatio || 1);
    const visible = visiblePart(camera, size);
    const before = useView.getState().visible;
    setView({
      fineness: finenessOf(pixelsShown, fitted),
      visible: visible.every((edge, i) => edge === before[i]) ? before : visible,
    });
  }, [camera, size, fitted]);
}

/** The wheel zooms at the pointer; the middle button, or the space bar with the left one, moves the picture. */
function usePanning(
  board: Board,
  { camera, spaceHeld, still }: { camera: Camera; spaceHeld: boolean; still: boolean },
) {
  const pan = useRef<{ x: number; y: number; camera: Camera } | null>(null);
  return {
    onWheel(event: ReactWheelEvent) {
      if (still) return;
      const turned = event.deltaY || event.deltaX;
      if (event.shiftKey && useView.getState().tool === 'brush') {
        turnBrush(turned);
        return;
      }
      const { left, top } = board.current!.getBoundingClientRect();
      setView({
        camera: zoomedAt(camera, event.clientX - left, event.clientY - top, Math.exp(-turned * 0.0015)),
      });
    },
    onPointerDownCapture(event: ReactPointerEvent) {
      if (still) return;
      if (event.button !== 1 && !(spaceHeld && event.button === 0)) return;
      event.preventDefault();
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      pan.current = { x: event.clientX, y: event.clientY, camera };
    },
    onPointerMoveCapture(event: ReactPointerEvent) {
      if (!pan.current) return;
      event.stopPropagation();
      const { x, y, camera: start } = pan.current;
      setView({ camera: { ...start, x: start.x + event.clientX - x, y: start.y + event.clientY - y } });
    },
    onPointerUpCapture() {
      pan.current = null;
    },
  };
}
