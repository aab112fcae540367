import type { Place } from '@/core/trail/edge-trail';
import type { OutlineKind } from '@/core/model/choices';
import { begunOnEdge, type Drawing, type EdgeDrawing, straightTo, withStretch } from './drawing';

/** Asks for the line along the edge from one place to another, and where it ends; null where there is none to follow. */
export type AskForLine = (
  from: Place | null,
  to: Place,
  within: number,
) => Promise<{ to: Place; line: number[] } | null>;

/** Where the drawing is held: it may be given up or changed while a line is asked for. */
interface Held {
  drawing(): Drawing | null;
  draw(next: Drawing): void;
}

/**
 * Draws from press to press along the edge. Lines are asked for and come later: presses are answered one after the other, and
 * what is done meanwhile waits for them; of the pointer's moves only the last counts.
 */
export class EdgeDrawer {
  private answers = Promise.resolve();
  private waiting = 0;
  /** Counts what was given up, so that what was asked for before is let go. */
  private attempt = 0;
  private pointed: Place | null = null;
  private asking = false;

  constructor(
    private readonly held: Held,
    private readonly ask: AskForLine,
  ) {}

  /** Whether a press has no line yet. */
  get isWaiting(): boolean {
    return this.waiting > 0;
  }

  /** Lets go of all that is asked for. */
  giveUp() {
    this.attempt++;
  }

  /** Does something once every press so far has its line; at once where none waits. */
  afterPresses(work: () => unknown) {
    const { attempt } = this;
    if (!this.isWaiting) work();
    else this.answers = this.answers.then(() => void (this.attempt === attempt && work()));
  }

  /**
   * A press: begins a drawing, or leads its line on to there. It is seen at once, and put onto the edge as soon as that is known.
   *
   * @param follows whether the stretch goes along the edge; else it is straight.
   * @param within px about the press within which it is put onto an edge, and counts as the first one of a loop.
   * @param onClosed told when a loop is closed by it.
   */
  press(kind: OutlineKind, at: Place, follows: boolean, within: number, onClosed: () => void) {
    const { attempt } = this;
    this.pointed = null;
    const now = this.held.drawing();
    if (!now) this.held.draw(begunOnEdge(kind, at));
    else if (now.by === 'edge') this.held.draw({ ...now, live: [...at] });
    const first = !now;
    this.waiting++;
    this.answers = this.answers
      .then(() => (this.attempt === attempt ? this.answer(first, at, follows, within, onClosed) : undefined))
      .finally(() => this.waiting--);
  }

  /** The pointer is there: shows the line to it. */
  point(at: Place, follows: boolean) {
    const now = this.held.drawing();
    if (now?.by !== 'edge') return;
    this.pointed = follows ? at : null;
    if (!follows) this.held.draw({ ...now, live: [...at] });
    else if (!this.asking) void this.showLines();
  }

  private async answer(first: boolean, at: Place, follows: boolean, within: number, onClosed: () => void) {
    const { attempt } = this;
    const before = this.held.drawing();
    if (before?.by !== 'edge') return;
    const { kind, presses } = before;
    const closes =
      kind === 'loop' &&
      presses.length > 2 &&
      Math.hypot(at[0] - presses[0][0], at[1] - presses[0][1]) < within;
    const from = first ? null : presses[presses.length - 1];
    const to = closes ? presses[0] : at;
    const found = follows ? await this.ask(from, to, closes ? 0 : within) : null;
    const now = this.held.drawing();
    if (this.attempt !== attempt || !isSame(now, before)) return;
    const place = found?.to ?? to;
    if (!from) this.held.draw({ ...now, presses: [place] });
    else this.held.draw(withStretch(now, place, found?.line ?? straightTo(from, place)));
    if (closes) onClosed();
  }

  private async showLines() {
    this.asking = true;
    try {
      for (let at = this.pointed; at; at = this.pointed) {
        this.pointed = null;
        const before = this.held.drawing();
        if (before?.by !== 'edge') return;
        const found = await this.ask(before.presses[before.presses.length - 1], at, 0);
        const now = this.held.drawing();
        if (isSame(now, before)) this.held.draw({ ...now, live: found?.line ?? [...at] });
      }
    } finally {
      this.asking = false;
    }
  }
}

/** Whether a drawing is still the same, but for the line to the pointer. */
function isSame(now: Drawing | null, before: EdgeDrawing): now is EdgeDrawing {
  return now?.by === 'edge' && now.stretches === before.stretches && now.presses === before.presses;
}
