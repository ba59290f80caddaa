const STILL_MS = 700;
const SLOW_MS = 55;
const QUICK_MS = 24;

/** How finely to draw while a hand moves: a machine that cannot keep up draws coarser, and finely again at rest. */
export class Pace {
  private last = -Infinity;
  private fineness = 1;
  private timer = 0;

  /** Fineness of the picture drawn at a moment, in milliseconds of the page's clock. */
  next(at: number): number {
    const gap = at - this.last;
    this.last = at;
    window.clearTimeout(this.timer);
    if (gap > STILL_MS) this.fineness = 1;
    else if (gap > SLOW_MS) this.fineness = Math.max(0.25, this.fineness * 0.7);
    else if (gap < QUICK_MS) this.fineness = Math.min(1, this.fineness * 1.08);
    return this.fineness;
  }

  /** Do this when nothing more comes for a moment. */
  rest(then: () => void) {
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(then, 220);
  }

  stop() {
    window.clearTimeout(this.timer);
  }
}
