import { type PointerEvent, useRef } from 'react';
import { useLetGo } from '@/interface/useLetGo';
import { goTo } from '../session/go-to';
import { setView, useView } from '../view/view-store';
import { type Course, type CourseKey, type CourseName, courseBounds } from './courses';
import { dragApart, dragEase, dragKeys, dragValue, togetherWith } from './move-commands';

/** px that a hand moves before it drags. */
const still = 3;
/** Farthest that an eased way's handle is pulled, in shares of the way. */
const farthest = 10;

/** A hand that holds keys, or a handle of a key's way to the next. */
interface Drag {
  x: number;
  y: number;
  /** The key under the hand, and all that go along. */
  key: CourseKey;
  keys: ReadonlySet<string>;
  way: 'frames' | 'apart' | 'value' | 'first' | 'second' | null;
  /** Of the lane, when it was taken: its bounds follow what is dragged. */
  span: number;
}

/**
 * The hand in a lane: it takes keys along the frames or up and down, and pulls handles; Escape lets go. The lane holds
 * the pointer: a key that is dragged is another row on every frame.
 *
 * @param lane null: keys of several values, which are dragged along only. @param last the crossing's last frame.
 */
export function useKeyDrag(lane: CourseName | null, course: Course, last: number) {
  const plane = useRef<HTMLDivElement>(null);
  const drag = useRef<Drag | null>(null);
  const letGo = () => {
    drag.current = null;
    setView({ draft: null });
  };
  useLetGo(() => drag.current !== null, letGo);

  const hold = (event: PointerEvent, held: Pick<Drag, 'key' | 'keys' | 'way'>) => {
    plane.current!.setPointerCapture(event.pointerId);
    drag.current = { x: event.clientX, y: event.clientY, span: course.high - course.low, ...held };
  };
  const take = (event: PointerEvent, key: CourseKey) => {
    event.preventDefault();
    event.stopPropagation();
    const { moveKeys } = useView.getState();
    const own = event.ctrlKey || event.metaKey ? new Set([key.id]) : togetherWith(key.id);
    const keys = event.shiftKey ? toggled(moveKeys, own, key.id) : moveKeys.has(key.id) ? moveKeys : own;
    setView({ moveKeys: keys, playing: false });
    if (!event.shiftKey) goTo(key.frame);
    hold(event, { key, keys, way: null });
  };
  const takeHandle = (event: PointerEvent, key: CourseKey, which: 'first' | 'second') => {
    event.preventDefault();
    event.stopPropagation();
    hold(event, { key, keys: new Set([key.id]), way: which });
  };

  const pullHandle = ({ key, way }: Drag, event: PointerEvent, box: DOMRect, draft: boolean) => {
    const next = course.keys.find(({ frame }) => frame > key.frame);
    const ease = course.keys.find(({ id }) => id === key.id)?.ease;
    if (!next || !ease) return;
    const frame = ((event.clientX - box.left) / box.width) * last;
    const value = course.low + (1 - (event.clientY - box.top) / box.height) * (course.high - course.low);
    const x = Math.min(1, Math.max(0, (frame - key.frame) / (next.frame - key.frame)));
    const rise = next.value - key.value;
    // Between equal values there is nothing to ease.
    const level = way === 'first' ? 0 : 1;
    const y = rise === 0 ? level : Math.min(farthest, Math.max(-farthest, (value - key.value) / rise));
    const [x1, y1, x2, y2] = ease;
    const pulled = way === 'first' ? [x, y, x2, y2] : [x1, y1, x, y];
    dragEase(
      key.id,
      pulled.map((each) => Math.round(each * 1000) / 1000),
      draft,
    );
  };
  const dragged = (event: PointerEvent, draft: boolean) => {
    const { current } = drag;
    if (!current) return;
    const box = plane.current!.getBoundingClientRect();
    const [dx, dy] = [event.clientX - current.x, event.clientY - current.y];
    const moved = Math.max(Math.abs(dx), Math.abs(dy)) > still;
    // Once it has begun to drag it goes on, also where it comes back to.
    if (!moved && useView.getState().draft === null) return;
    const along = event.altKey && current.keys.size > 1 ? 'apart' : 'frames';
    current.way ??= lane === null || Math.abs(dx) >= Math.abs(dy) ? along : 'value';
    if (current.way === 'apart')
      dragApart(current.keys, current.key.id, Math.round((dx / box.width) * last), draft);
    else if (current.way === 'frames') dragKeys(current.keys, Math.round((dx / box.width) * last), draft);
    else if (current.way === 'value' && lane !== null) {
      const [low, high] = courseBounds(lane);
      const value = current.key.value - (dy / box.height) * current.span;
      dragValue(current.key.id, Math.round(10 * Math.min(high, Math.max(low, value))) / 10, draft);
    } else pullHandle(current, event, box, draft);
  };
  const onPlane = {
    onPointerDown: (event: PointerEvent) => {
      const box = plane.current!.getBoundingClientRect();
      setView({ playing: false, moveKeys: new Set() });
      goTo(((event.clientX - box.left) / box.width) * last);
    },
    onPointerMove: (event: PointerEvent) => dragged(event, true),
    onPointerUp: (event: PointerEvent) => {
      dragged(event, false);
      drag.current = null;
    },
    onPointerCancel: letGo,
  };
  return { plane, take, takeHandle, onPlane };
}

/** Keys with some more among them, or without them where the one that is held was. */
function toggled(keys: ReadonlySet<string>, more: ReadonlySet<string>, held: string): ReadonlySet<string> {
  return new Set(keys.has(held) ? [...keys].filter((each) => !more.has(each)) : [...keys, ...more]);
}
