/** Shares of the picture's fineness that playing falls back to, where a machine cannot draw every frame in time. */
const shares = [1, 0.7, 0.5, 0.35] as const;
/** Frames that are looked back on, and how many of them left out make the picture coarser. */
const [lookedBack, tooMany] = [12, 3];
/** Frames after a start that are not counted: what was not read yet is read meanwhile. */
const startingUp = 6;

/** How finely is drawn while playing: coarser, step by step, where frames are left out; one step finer at each new start. */
export class Pace {
  private step = 0;
  /** For the frames due lately, whether each was left out. */
  private lately: boolean[] = [];
  private begun = 0;

  /** Share of the fineness at rest. */
  get share(): number {
    return shares[this.step];
  }

  /** Playing begins anew. */
  begin() {
    this.step = Math.max(0, this.step - 1);
    this.lately = [];
    this.begun = 0;
  }

  /** @param leftOut frames that were not drawn in time before the one that is due now. @param drawn whether that one was. */
  note(leftOut: number, drawn: boolean) {
    if (++this.begun <= startingUp) return;
    for (let k = 0; k < Math.min(leftOut, lookedBack); k++) this.lately.push(true);
    this.lately.push(!drawn);
    this.lately = this.lately.slice(-lookedBack);
    if (this.step === shares.length - 1 || this.lately.filter(Boolean).length < tooMany) return;
    this.step++;
    this.lately = [];
  }
}
