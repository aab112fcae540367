import { useSnackbar } from '@/interface/messages';
import { useEffect, useState } from 'react';
import { jumpTo, togglePlaying } from './commands';
import { keyBindings } from './keys';
import { setView, useView } from './view-store';

function isTyping(target: EventTarget | null): boolean {
  const element = target instanceof HTMLElement ? target : null;
  if (element?.tagName === 'INPUT')
    return !['checkbox', 'radio', 'range', 'button'].includes((element as HTMLInputElement).type);
  return element?.tagName === 'TEXTAREA' || element?.isContentEditable === true;
}

/** What keeps every key to itself. */
const ownKeys = '[role="dialog"], [role="menu"], .MuiPopover-root';

/** Runs the key map on the workspace, and collects a typed jump: `+12`, `-12`, a frame number or a timecode, then Enter. */
export function useKeys(): { jump: string } {
  const [jump, setJump] = useState('');
  const { enqueueSnackbar } = useSnackbar();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event.target) || useView.getState().keysShown) return;
      const element = event.target instanceof HTMLElement ? event.target : null;
      // Menus and dialogs have keys of their own; sliders and choices use the arrows.
      if (element?.closest(ownKeys)) return;
      const moves = /^(Arrow|Home$|End$|Page)/.test(event.key);
      if (moves && element?.closest('[role="slider"], [role="combobox"], input[type="range"]')) return;
      if (/^[+\-0-9:;]$/.test(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey) {
        setJump((typed) => (/^[+-]$/.test(event.key) ? event.key : (typed + event.key).slice(0, 12)));
        event.preventDefault();
        return;
      }
      if (jump !== '') {
        if (event.key === 'Enter') {
          const refusal = jumpTo(jump);
          if (refusal) enqueueSnackbar(refusal);
        }
        if (event.key === 'Backspace') setJump((typed) => typed.slice(0, -1));
        else if (event.key !== 'Shift') setJump('');
        if (['Enter', 'Escape', 'Backspace'].includes(event.key)) {
          event.preventDefault();
          return;
        }
      }
      if (event.key === 'Enter' && element?.tagName !== 'BODY') return;
      const binding = keyBindings.find(({ matches }) => matches(event));
      if (!binding) return;
      event.preventDefault();
      const refusal = binding.run();
      if (refusal) enqueueSnackbar(refusal);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [jump, enqueueSnackbar]);
  return { jump };
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
