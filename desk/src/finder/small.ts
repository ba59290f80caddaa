import type { Project } from "../api/client";
import { underWay } from "../kit/settled";
import { Stage } from "./stage";

/** One stage for all small pictures of a project: they are drawn one after the other and copied. */
export class SmallStage {
  private readonly canvas = document.createElement("canvas");
  private readonly stage: Stage;
  private ready = false;
  private waiting = new Map<HTMLCanvasElement, () => void>();
  private frame = 0;
  private drawn: () => void = () => undefined;

  constructor(project: Project, private readonly onReady: () => void) {
    this.stage = new Stage(this.canvas);
    void this.stage.load(project.set.views, () => { this.ready = true; this.onReady(); }).catch(() => undefined);
  }

  /** Draw a shot's frame into a small canvas, soon. */
  draw(target: HTMLCanvasElement, project: Project, shot: { view: number[]; projection: number[]; left_out: number[] }) {
    this.waiting.set(target, () => {
      const { width, height } = target;
      if (!this.ready || !width || !height) return;
      this.stage.resize(width, height);
      this.stage.light(project.sunward);
      this.stage.place(project.set.view_matrix);
      this.stage.lift(shot.left_out);
      this.stage.draw(shot.view, shot.projection, { left: 0, top: 0, width, height }, true);
      target.getContext("2d")?.drawImage(this.canvas, 0, 0, width, height);
    });
    if (this.frame) return;
    const over = underWay();
    this.drawn = over;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      const all = [...this.waiting.values()];
      this.waiting.clear();
      all.forEach((one) => one());
      over();
    });
  }

  standIns(project: Project) {
    void this.stage.loadStandIns(project.set.stand_ins_view ?? null, project.set.own_parts, this.onReady).catch(() => undefined);
  }

  dispose() {
    cancelAnimationFrame(this.frame);
    this.drawn();
    this.stage.dispose();
  }
}
