import { useEffect, useState, useSyncExternalStore } from "react";
import type { Project } from "../api/client";
import { Stage } from "./stage";
import { text } from "../text";

/** How far the set is on its way: "loading", "ready" once something of it can be seen, else what is wrong. */
interface Come {
  state: string;
  share: number;
  standIns: number;
}

const NO_WEBGL = text.finder.thisBrowserCannotDraw;
const NOT_DRAWN = text.finder.theSetCouldNotBeDrawn;
const KEPT_MS = 30_000;

/** One set on one stage, for all views of it: loaded once, however many look at it and in whatever room. */
class Shared {
  readonly stage: Stage | null;
  come: Come = { state: "loading", share: 0, standIns: 0 };
  private users = 0;
  private timer = 0;
  private gone = false;
  private readonly listeners = new Set<() => void>();

  constructor(
    readonly revision: string,
    views: string[],
  ) {
    try {
      this.stage = new Stage();
    } catch {
      this.stage = null;
      this.come = { ...this.come, state: NO_WEBGL };
      return;
    }
    this.stage
      .load(views, (share) => this.tell({ state: "ready", share }))
      .catch(() => this.tell({ state: NOT_DRAWN }));
  }

  private tell(more: Partial<Come>) {
    if (this.gone) return;
    this.come = { ...this.come, ...more };
    this.listeners.forEach((heard) => heard());
  }

  readonly listen = (heard: () => void) => {
    this.listeners.add(heard);
    return () => {
      this.listeners.delete(heard);
    };
  };

  standIns(url: string | null, own: number) {
    this.stage
      ?.loadStandIns(url, own, () => this.tell({ standIns: this.come.standIns + 1 }))
      .catch(() => this.tell({ state: text.finder.theStandInsCouldNotBeDrawn }));
  }

  use(): () => void {
    this.users += 1;
    window.clearTimeout(this.timer);
    return () => {
      this.users -= 1;
      // Whoever goes to another room looks at the same set again in a moment.
      if (this.users === 0) this.timer = window.setTimeout(() => this.end(), KEPT_MS);
    };
  }

  end() {
    window.clearTimeout(this.timer);
    if (this.users > 0 || this.gone) return;
    this.gone = true;
    this.stage?.dispose();
    if (kept === this) kept = null;
  }
}

let kept: Shared | null = null;

function sharedOf({ revision, views }: Project["set"]): Shared {
  if (kept?.revision !== revision) {
    kept?.end();
    kept = new Shared(revision, views);
  }
  return kept;
}

/** The stage of a project's set, and how far that has come. */
export function useStage({ set }: Project): { stage: Stage | null } & Come {
  const [shared, setShared] = useState<Shared | null>(null);
  useEffect(() => {
    const one = sharedOf(set);
    setShared(one);
    return one.use();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the files change with the revision only
  }, [set.revision]);
  useEffect(
    () => shared?.standIns(set.stand_ins_view ?? null, set.own_parts),
    [shared, set.stand_ins_view, set.own_parts],
  );
  const come = useSyncExternalStore(shared ? shared.listen : nobody, () => (shared ? shared.come : COMING));
  return { stage: shared?.stage ?? null, ...come };
}

const COMING: Come = { state: "loading", share: 0, standIns: 0 };
const nobody = () => () => undefined;
