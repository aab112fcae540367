import { useSnackbar } from '@/interface/messages';
import { useEffect, useRef, useState } from 'react';
import { jumpTo, togglePlaying } from '../session/go-to';
import { actionOf } from './shortcuts';
import { setView, useView } from '../view/view-store';

function isTyping(target: EventTarget | null): boolean {
  const element = target instanceof HTMLElement ? target : null;
  if (element?.tagName === 'INPUT')
    return !['checkbox', 'radio', 'range', 'button'].includes((element as HTMLInputElement).type);
  return element?.tagName === 'TEXTAREA' || element?.isContentEditable === true;
}

/** What keeps every key to itself. */
const ownKeys = '[role="dialog"], [role="menu"], .MuiPopover-root';

/** Where the keyboard is. */
export interface KeyboardState {
  /** What has been typed of a jump. */
  jump: string;
  /** Name of the field that has the keys; null when they are the picture's. */
  field: string | null;
}

/** What takes a press for itself; a press on anything else gives the keys back to the picture. */
const takesPress = 'input, textarea, label, button, a, [role], [tabindex], .MuiInputBase-root';

/** The field that has the keyboard, by its name. */
function useFieldWithKeys(): string | null {
  const [field, setField] = useState<string | null>(null);
  useEffect(() => {
    const onFocus = ({ target }: FocusEvent) => {
      const input = isTyping(target) ? (target as HTMLInputElement) : null;
      setField(input && !input.closest(ownKeys) ? fieldName(input) : null);
    };
    const onLeave = () => setField(null);
    const onPress = ({ target }: PointerEvent) => {
      const active = document.activeElement;
      if (!isTyping(active) || !(target instanceof Element) || active!.contains(target)) return;
      if (!target.closest(takesPress) || target.closest('[data-testid="picture"]'))
        (active as HTMLElement).blur();
    };
    document.addEventListener('focusin', onFocus);
    document.addEventListener('focusout', onLeave);
    document.addEventListener('pointerdown', onPress, true);
    return () => {
      document.removeEventListener('focusin', onFocus);
      document.removeEventListener('focusout', onLeave);
      document.removeEventListener('pointerdown', onPress, true);
    };
  }, []);
  return field;
}

function fieldName(input: HTMLInputElement): string {
  return input.getAttribute('aria-label') ?? input.labels?.[0]?.textContent?.trim() ?? 'a field';
}

/** Runs the key map on the workspace, and collects a typed jump: `+12`, `-12`, a frame number or a timecode, then Enter. */
export function useKeys(): KeyboardState {
  const [jump, showJump] = useState('');
  // Keys come faster than the page is drawn.
  const typed = useRef('');
  const field = useFieldWithKeys();
  const { enqueueSnackbar } = useSnackbar();
  useEffect(() => {
    const setJump = (text: string) => {
      typed.current = text;
      showJump(text);
    };
    const onKey = (event: KeyboardEvent) => {
      const element = event.target instanceof HTMLElement ? event.target : null;
      if (isTyping(element) && event.key === 'Escape' && !element!.closest(ownKeys)) element!.blur();
      if (isTyping(element) || useView.getState().keysShown) return;
      // Menus and dialogs have keys of their own; sliders and choices use the arrows.
      if (element?.closest(ownKeys)) return;
      const moves = /^(Arrow|Home$|End$|Page)/.test(event.key);
      if (moves && element?.closest('[role="slider"], [role="combobox"], input[type="range"]')) return;
      if (/^[+\-0-9:;]$/.test(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey) {
        setJump(/^[+-]$/.test(event.key) ? event.key : (typed.current + event.key).slice(0, 12));
        event.preventDefault();
        return;
      }
      if (typed.current !== '') {
        if (event.key === 'Enter') {
          const refusal = jumpTo(typed.current);
          if (refusal) enqueueSnackbar(refusal);
        }
        if (event.key === 'Backspace') setJump(typed.current.slice(0, -1));
        else if (event.key !== 'Shift') setJump('');
        if (['Enter', 'Escape', 'Backspace'].includes(event.key)) {
          event.preventDefault();
          return;
        }
      }
      // Enter alone presses what has the focus.
      const presses = event.key === 'Enter' && !event.ctrlKey && !event.metaKey;
      if (presses && element?.tagName !== 'BODY') return;
      const act = actionOf(event);
      if (!act) return;
      event.preventDefault();
      const said = act();
      if (said instanceof Promise) void said.then((later) => later && enqueueSnackbar(later));
      else if (said) enqueueSnackbar(said);
    };
    // A typed jump's Enter is meant for it, and not for the choice that still has the focus.
    const jumping = (event: KeyboardEvent) => {
      if (
        typed.current === '' ||
        event.key !== 'Enter' ||
        !(event.target as Element).closest?.('[role="combobox"]')
      )
        return;
      event.stopPropagation();
      onKey(event);
    };
    window.addEventListener('keydown', jumping, true);
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', jumping, true);
      window.removeEventListener('keydown', onKey);
    };
  }, [enqueueSnackbar]);
  return { jump, field };
}

/**
 * The space bar: with the pointer it moves the picture, alone it plays. Which of the two is told by the pointer and
 * not by the time it was held, so that a busy page never swallows a tap. Returns whether it is held.
 */
export function useSpaceBar(): boolean {
  const [held, setHeld] = useState(false);
  useEffect(() => {
    let down = false;
    let used = false;
    const onDown = (event: KeyboardEvent) => {
      if (event.key !== ' ' || isTyping(event.target)) return;
      if (event.target instanceof HTMLElement && event.target.closest(`${ownKeys}, [role="combobox"]`))
        return;
      event.preventDefault();
      if (event.repeat) return;
      down = true;
      used = false;
      setHeld(true);
    };
    const onPointer = () => {
      used = true;
    };
    const onUp = (event: KeyboardEvent) => {
      if (event.key !== ' ' || !down) return;
      event.preventDefault();
      setHeld(false);
      if (!used) togglePlaying();
      down = false;
    };
    const onBlur = () => {
      down = false;
      setHeld(false);
    };
    window.addEventListener('keydown', onDown);
    window.addEventListener('keyup', onUp);
    window.addEventListener('pointerdown', onPointer);
    window.addEventListener('blur', onBlur);
    return () => {
      window.removeEventListener('keydown', onDown);
      window.removeEventListener('keyup', onUp);
      window.removeEventListener('pointerdown', onPointer);
      window.removeEventListener('blur', onBlur);
    };
  }, []);
  return held;
}

/** Closes the key map. */
export function hideKeys() {
  setView({ keysShown: false });
}
