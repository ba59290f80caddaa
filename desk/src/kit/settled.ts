/**
 * Whether all that a hand or a message set going has come to rest: questions are answered, writes are written, what is
 * loaded is drawn. Told as `data-settled` on the page, for whoever drives it without hands.
 */
const page = document.documentElement;
let under = 0;
let waiting = 0;

function stir() {
  cancelAnimationFrame(waiting);
  page.dataset.settled = "false";
}

// Two frames later: what one answer sets going in its turn has begun by then.
function rest() {
  cancelAnimationFrame(waiting);
  waiting = requestAnimationFrame(() => {
    waiting = requestAnimationFrame(() => {
      page.dataset.settled = "true";
    });
  });
}

/** Something is under way until what is given back is called; calling it again does nothing. */
export function underWay(): () => void {
  let over = false;
  under += 1;
  stir();
  return () => {
    if (over) return;
    over = true;
    under -= 1;
    if (under === 0) rest();
  };
}

/** One thing that is now under way and now not. */
export class Doing {
  private over: (() => void) | null = null;

  set on(is: boolean) {
    if (is) this.over ??= underWay();
    else {
      this.over?.();
      this.over = null;
    }
  }
}
