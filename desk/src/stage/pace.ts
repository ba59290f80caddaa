import { Doing } from "../kit/settled";

const FRAME_MS = 40;
const COARSEST = 0.25;
const REST_MS = 220;
const SHARE = 3;

/** How finely to draw while a hand moves: a machine that cannot keep up draws coarser, and finely again at rest. */
export class Pace {
  private fine: number | null = null;
  private timer = 0;
  private notBefore = 0;
  private readonly resting = new Doing();

  /** How long a picture in all its pixels took to draw, in milliseconds; measured at rest, where nobody waits for it.
   * `null`: not known, as in another size. */
  took(ms: number | null) {
    this.fine = ms;
  }

  /** Whether it was measured how long a picture takes. */
  get known(): boolean {
    return this.fine !== null;
  }

  /** Whether this machine is known to draw in all pixels while a hand moves. */
  get quick(): boolean {
    return this.fine !== null && this.fine <= FRAME_MS;
  }

  /** Share of the screen's own pixels that can be drawn in a frame's time; what is drawn goes with its square. */
  fineness(): number {
    return this.fine === null || this.fine <= FRAME_MS ? 1 : Math.max(COARSEST, Math.sqrt(FRAME_MS / this.fine));
  }

  /** Draw now, coarsely; or not, where the last such picture took so long that nothing else would get its turn. */
  follow(draw: () => void) {
    const began = performance.now();
    if (began < this.notBefore) return;
    draw();
    const now = performance.now();
    this.notBefore = now + SHARE * (now - began);
  }

  /** Do this when nothing more comes for a moment. */
  rest(then: () => void) {
    window.clearTimeout(this.timer);
    this.resting.on = true;
    this.timer = window.setTimeout(() => {
      then();
      this.resting.on = false;
    }, REST_MS);
  }

  stop() {
    window.clearTimeout(this.timer);
    this.resting.on = false;
  }
}
