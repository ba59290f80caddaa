import * as THREE from "three";
import type { FrameRect } from "./frameRect";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import type { Project } from "../api/client";
import { underWay } from "../kit/settled";
import { Blurred } from "./blurred";
import { Depths } from "./depths";
import { type Cap, type Cutting, Opening } from "./opening";
import { type ShotMarker, StandingShots } from "./markers";
import { displayed, type LensGrid, Pulled } from "./pulled";
import { type Shade, darken } from "./shade";
import { type Soft, SoftnessOver } from "./softness";
import { Sunlight } from "./sunlight";
import { WithinBall } from "./within";

/** One picture of the set: how it stands and is lit, what of it is there, and the matrices it is seen with. */
export interface Look {
  /** From what the files are told in to the world, row by row. */
  place: number[];
  sunward: Project["sunward"];
  hidden: number[];
  /** Parts drawn as ghosts, for what they are: left out. */
  ghosts: number[];
  markers: ShotMarker[];
  /** Nothing is drawn above this height. */
  cutAbove: number | null;
  /** A part with a box round it. */
  marked: number | null;
  view: number[];
  /** What the picture is seen with; `null` where no matrix can say it, and a grid does. */
  projection: number[] | null;
  grid: LensGrid | null;
  /** How dark the frame's corners are; `null`: not at all. */
  shade: Shade | null;
  /** What opens the set, and the faces it is closed with there. */
  cutting: Cutting | null;
  cap: Cap | null;
  /** What bounds what is drawn, in metres from the camera; where a matrix is given it says that itself. */
  near: number;
  far: number | null;
  /** Whether they count from the stand. */
  fromStand: boolean;
  /** In CSS pixels; `fineness`: share of the screen's own pixels, less than 1 while a slow machine follows a hand. */
  width: number;
  height: number;
  fineness: number;
  frame: FrameRect;
  /** Whether what lies outside the frame is drawn too. */
  around: boolean;
  /** How the frame tells where it is soft; `null`: not at all. */
  soft: Soft | null;
}

/** What lies outside a picture, or where the lens draws nothing. */
const AROUND = "#777777";
/** How far a picture through a grid reaches where it has no far clip. */
const FAR_M = 1e4;
/** The flat near end of a cube's face touches the ball of the near clip in its corners. */
const CORNER = 1 / Math.sqrt(3);
/** Strength of the lights that model the set, and where they come from. */
const FILLS: [number, number, number, number][] = [
  [1.0, 1, 0.35, 0.3],
  [0.4, -0.35, -1, 0.2],
];

/**
 * Draws the set by matrices it is given, for any number of views, each on a canvas of its own. It knows the set and
 * its light, and nothing of lenses: view and projection come from the sheet; the projection is only widened from the
 * frame to the canvas around it.
 */
export class Stage {
  readonly scene = new THREE.Scene();
  private camera = new THREE.Camera();
  private renderer: THREE.WebGLRenderer;
  private readonly sun = new Sunlight();
  private root = new THREE.Group();
  private materials = new Map<string, THREE.Material>();
  private gone = false;
  private parts: THREE.Object3D[][] = [];
  private standIns: THREE.Group | null = null;
  private standInsFrom: string | null = null;
  private hidden: number[] = [];
  private ghosts: number[] = [];
  private readonly ghost = new THREE.MeshBasicMaterial({
    color: "#8A5A00",
    transparent: true,
    opacity: 0.28,
    depthWrite: false,
    toneMapped: false,
  });
  private readonly markers = new StandingShots();
  private chosen: { part: number; box: THREE.Box3Helper } | null = null;
  private placed = "";
  private pulled: Pulled | null = null;
  private softness: SoftnessOver | null = null;
  private blurred: Blurred | null = null;
  private readonly depths = new Depths();
  /** What counts distances from the stand draws nothing nearer or farther. */
  private readonly within = new WithinBall();
  private readonly opening = new Opening();
  private readonly room = { width: 1, height: 1 };

  constructor() {
    this.renderer = new THREE.WebGLRenderer({ antialias: true });
    this.renderer.setPixelRatio(1);
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.renderer.shadowMap.autoUpdate = false;
    this.renderer.toneMapping = THREE.AgXToneMapping;
    this.renderer.toneMappingExposure = 1.15;
    this.camera.matrixAutoUpdate = false;
    this.scene.add(new THREE.HemisphereLight(0xeef3fb, 0xa59e92, 2.5));
    // Weak light from two sides without shadows: walls that meet differ, also where all is of one colour.
    for (const [strength, ...from] of FILLS) {
      const fill = new THREE.DirectionalLight(0xffffff, strength);
      fill.position.set(...from);
      this.scene.add(fill);
    }
    this.scene.add(this.sun.light, this.sun.light.target);
    this.root.matrixAutoUpdate = false;
    this.scene.add(this.root, this.markers.group, this.opening.cap);
    this.renderer.localClippingEnabled = true;
    this.opening.bound(this.ghost);
    this.scene.background = new THREE.Color("#c9d3de");
  }

  /** Loads the set's files one after another, the largest parts first; `onPiece` after each. */
  async load(urls: string[], onPiece: (share: number) => void): Promise<void> {
    const loader = new GLTFLoader();
    for (const [n, url] of urls.entries()) {
      const { scene } = await coming(loader.loadAsync(url));
      if (this.gone) return;
      this.take(scene);
      scene.traverse((object) => {
        if (object instanceof THREE.Mesh)
          object.material = this.shared(this.within.bound(object.material as THREE.Material));
      });
      this.opening.apply(scene);
      this.root.add(scene);
      this.sun.cast();
      onPiece((n + 1) / urls.length);
    }
  }

  /** The stand-ins: a small file of their own, in the world. `onDone` when they are there. */
  async loadStandIns(url: string | null, own: number, onDone: () => void): Promise<void> {
    if (url === this.standInsFrom) return;
    this.standInsFrom = url;
    const scene = url ? (await coming(new GLTFLoader().loadAsync(url))).scene : null;
    scene?.traverse((object) => {
      if (object instanceof THREE.Mesh) this.within.bound(object.material as THREE.Material);
    });
    if (this.gone || this.standInsFrom !== url) return;
    if (this.standIns) {
      this.scene.remove(this.standIns);
      free(this.standIns);
    }
    this.parts.length = Math.min(this.parts.length, own);
    this.standIns = scene;
    if (scene) {
      this.opening.apply(scene);
      this.take(scene);
      this.scene.add(scene);
    }
    this.lift(this.hidden);
    onDone();
  }

  private take(scene: THREE.Group) {
    scene.traverse((object) => {
      const numbered = /^part-(\d+)$/.exec(object.name);
      if (numbered) (this.parts[Number(numbered[1])] ??= []).push(object);
      if (object instanceof THREE.Mesh) object.castShadow = object.receiveShadow = true;
    });
  }

  /** A box round one part, so that it is found among many. */
  private mark(part: number | null) {
    if (this.chosen) this.chosen.box.visible = part !== null;
    if (part === null || this.chosen?.part === part) return;
    if (this.chosen) {
      this.scene.remove(this.chosen.box);
      this.chosen.box.dispose();
      this.chosen = null;
    }
    const objects = this.parts[part];
    if (!objects) return;
    this.scene.updateMatrixWorld(true);
    const around = new THREE.Box3();
    objects.forEach((object) => around.expandByObject(object));
    const box = new THREE.Box3Helper(around, new THREE.Color("#1E5B49"));
    (box.material as THREE.LineBasicMaterial).depthTest = false;
    (box.material as THREE.LineBasicMaterial).toneMapped = false;
    box.renderOrder = 9;
    this.chosen = { part, box };
    this.scene.add(box);
  }

  /** Draw nothing above a height. */
  private cutAbove(height: number | null) {
    const planes = this.renderer.clippingPlanes;
    if (height === null ? planes.length === 0 : planes[0]?.constant === height) return;
    this.renderer.clippingPlanes = height === null ? [] : [new THREE.Plane(new THREE.Vector3(0, 0, -1), height)];
    this.sun.cast();
  }

  /** Materials that come again with a later file are used once. */
  private shared(material: THREE.Material): THREE.Material {
    const known = this.materials.get(material.name);
    if (!known || material.name === "") {
      this.materials.set(material.name, material);
      return material;
    }
    // A surface without normals gets a flat variant of its material from the loader; that is another one.
    return (known as THREE.MeshStandardMaterial).flatShading === (material as THREE.MeshStandardMaterial).flatShading
      ? known
      : material;
  }

  /** From what the files are told in to the world, row by row. */
  private place(matrix: number[]) {
    const placed = matrix.join();
    if (this.placed === placed) return;
    this.placed = placed;
    this.root.matrix.set(...(matrix as Parameters<THREE.Matrix4["set"]>));
    this.root.matrixWorldNeedsUpdate = true;
    this.sun.cast();
  }

  /** Hide parts; those in `ghosts` are drawn as ghosts instead, for what they are: left out. */
  private lift(hidden: number[], ghosts: number[] = []) {
    const same =
      hidden.length === this.hidden.length &&
      hidden.every((n, k) => n === this.hidden[k]) &&
      ghosts.join() === this.ghosts.join();
    const before = this.ghosts;
    this.hidden = hidden;
    this.ghosts = ghosts;
    const gone = new Set(hidden);
    const pale = new Set(ghosts);
    this.parts.forEach((objects, number) =>
      objects.forEach((object) => {
        object.visible = !gone.has(number) || pale.has(number);
      }),
    );
    for (const number of new Set([...before, ...ghosts])) {
      this.parts[number]?.forEach((object) =>
        object.traverse((mesh) => {
          if (!(mesh instanceof THREE.Mesh)) return;
          mesh.userData.own ??= mesh.material as THREE.Material;
          mesh.material = pale.has(number) ? this.ghost : (mesh.userData.own as THREE.Material);
          mesh.castShadow = !pale.has(number);
        }),
      );
    }
    if (!same) this.sun.cast();
  }

  /** Room for a picture of so many pixels: it grows, because views of several sizes take turns. */
  private roomFor(width: number, height: number) {
    if (width <= this.room.width && height <= this.room.height) return;
    this.room.width = Math.max(this.room.width, width);
    this.room.height = Math.max(this.room.height, height);
    this.renderer.setSize(this.room.width, this.room.height, false);
  }

  /** Draws a look and puts it on a canvas. `wholly`: not before all of it is drawn, so that it can be measured. */
  draw(target: HTMLCanvasElement, look: Look, wholly = false) {
    const ratio = Math.min(window.devicePixelRatio, 2) * look.fineness;
    const [width, height] = [Math.max(1, Math.round(look.width * ratio)), Math.max(1, Math.round(look.height * ratio))];
    this.roomFor(width, height);
    this.sun.stand(look.sunward);
    this.place(look.place);
    this.lift(look.hidden, look.ghosts);
    this.markers.show(look.markers);
    this.cutAbove(look.cutAbove);
    if (this.opening.open(look.cutting, look.cap, [this.root, ...(this.standIns ? [this.standIns] : [])]))
      this.sun.cast();
    this.mark(look.marked);
    const v = new THREE.Matrix4().set(...(look.view as Parameters<THREE.Matrix4["set"]>));
    this.camera.matrix.copy(v).invert();
    this.sun.follow(new THREE.Vector3().setFromMatrixPosition(this.camera.matrix), this.root, this.renderer);
    if (look.grid) this.pull(look, look.grid, width, height, ratio);
    else {
      this.see(look, v, width, height, ratio);
      const draws = look.soft && this.shows(look.soft);
      if (draws !== this.blurred || draws === null) this.renderer.render(this.scene, this.camera);
      if (look.soft)
        draws?.draw(this.renderer, this.scene, this.camera, this.depths, look.soft, { ...look, ratio }, width, height);
    }
    if (wholly) {
      const gl = this.renderer.getContext();
      gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
    }
    if (target.width !== width) target.width = width;
    if (target.height !== height) target.height = height;
    // The picture lies at the lower left of the room there is.
    const brush = target.getContext("2d");
    brush?.drawImage(this.renderer.domElement, 0, this.room.height - height, width, height, 0, 0, width, height);
    if (brush && look.shade) darken(brush, look.shade, look.frame, ratio);
  }

  /** What tells where a picture is soft, or draws it so, opened as the set is; nothing where all of it is sharp. */
  private shows(soft: Soft): SoftnessOver | Blurred | null {
    if (soft.blur.times_px === 0) return null;
    this.opening.bound(this.depths.material);
    if (soft.how !== "drawn") return (this.softness ??= new SoftnessOver());
    return (this.blurred ??= new Blurred(
      displayed(this.scene.background as THREE.Color),
      displayed(new THREE.Color(AROUND)),
    ));
  }

  /**
   * A picture through a grid of directions: the set is drawn on faces of a cube, and those are pulled into the picture.
   */
  private pull(
    { frame, around, width, height, near, far, fromStand, soft }: Look,
    grid: LensGrid,
    wide: number,
    high: number,
    ratio: number,
  ) {
    const canvas = { frame, width, height, ratio, around };
    const reach = [near * CORNER, far === null ? FAR_M : far / CORNER] as const;
    this.pulled ??= new Pulled(this.scene.background as THREE.Color, new THREE.Color(AROUND));
    this.within.set(fromStand ? near : 0, (fromStand ? far : null) ?? Infinity);
    const clipping = this.renderer.clippingPlanes;
    if (!fromStand) this.renderer.clippingPlanes = [...clipping, ...this.alongAxis(near, far)];
    this.pulled.drawFaces(this.renderer, this.scene, this.camera.matrix, grid, canvas, ...reach);
    this.within.set(0, Infinity);
    this.renderer.setClearColor(AROUND, 1);
    this.renderer.setScissorTest(true);
    this.renderer.setViewport(0, 0, wide, high);
    this.renderer.setScissor(0, 0, wide, high);
    this.renderer.clear();
    if (!around) this.renderer.setScissor(...within(frame, height, ratio));
    const bounding = this.renderer.clippingPlanes;
    this.renderer.clippingPlanes = [];
    const shows = soft && this.shows(soft);
    if (shows === null || shows === this.softness) this.pulled.pull(this.renderer, grid, canvas);
    this.renderer.clippingPlanes = bounding;
    if (soft && shows) {
      const [place, scissor] = [
        this.renderer.getViewport(new THREE.Vector4()),
        this.renderer.getScissor(new THREE.Vector4()),
      ];
      const depth = this.depths.onFaces(
        this.renderer,
        this.scene,
        this.camera.matrix,
        this.pulled,
        grid,
        soft.fromStand,
        canvas,
        reach,
        fromStand ? [near, far ?? Infinity] : [0, Infinity],
      );
      this.renderer.setViewport(place);
      this.renderer.setScissor(scissor);
      this.renderer.clippingPlanes = [];
      shows.pull(this.renderer, this.pulled, grid, depth, soft, canvas, wide, high);
    }
    this.renderer.clippingPlanes = clipping;
  }

  /** Near and far clip as planes across the lens axis: no plane of a cube's face is both for all of them. */
  private alongAxis(near: number, far: number | null): THREE.Plane[] {
    const eye = new THREE.Vector3().setFromMatrixPosition(this.camera.matrix);
    const axis = new THREE.Vector3(0, 0, -1).transformDirection(this.camera.matrix);
    const cut = (distance: number, side: number) =>
      new THREE.Plane().setFromNormalAndCoplanarPoint(
        axis.clone().multiplyScalar(side),
        eye.clone().addScaledVector(axis, distance),
      );
    return far === null ? [cut(near, 1)] : [cut(near, 1), cut(far, -1)];
  }

  /** Sets the camera by the sheet's matrices (row by row), and where on the canvas it draws. */
  private see(
    { projection, frame, around, width, height }: Look,
    v: THREE.Matrix4,
    wide: number,
    high: number,
    ratio: number,
  ) {
    if (!projection) throw new Error("A picture is seen with a matrix or through a grid.");
    this.camera.matrixWorld.copy(this.camera.matrix);
    this.camera.matrixWorldInverse.copy(v);
    const p = new THREE.Matrix4().set(...(projection as Parameters<THREE.Matrix4["set"]>));
    this.renderer.setClearColor(AROUND, 1);
    this.renderer.setScissorTest(true);
    this.renderer.setScissor(0, 0, wide, high);
    if (around) {
      const sx = frame.width / width;
      const sy = frame.height / height;
      const cx = (2 * frame.left + frame.width) / width - 1;
      const cy = 1 - (2 * frame.top + frame.height) / height;
      p.premultiply(new THREE.Matrix4().set(sx, 0, 0, cx, 0, sy, 0, cy, 0, 0, 1, 0, 0, 0, 0, 1));
      this.renderer.setViewport(0, 0, wide, high);
    } else {
      this.renderer.clear();
      const place = within(frame, height, ratio);
      this.renderer.setViewport(...place);
      this.renderer.setScissor(...place);
    }
    this.camera.projectionMatrix.copy(p);
    this.camera.projectionMatrixInverse.copy(p).invert();
  }

  dispose() {
    this.gone = true;
    this.pulled?.dispose();
    this.softness?.dispose();
    this.blurred?.dispose();
    this.depths.dispose();
    free(this.scene);
    this.renderer.dispose();
  }
}

/** Where the frame lies in a canvas, from its lower left, in the pixels drawn. */
function within(frame: FrameRect, height: number, ratio: number): [number, number, number, number] {
  return [frame.left, height - frame.top - frame.height, frame.width, frame.height].map((v) =>
    Math.round(v * ratio),
  ) as [number, number, number, number];
}

/** What is on its way to the stage keeps the page from being settled. */
function coming<T>(loaded: Promise<T>): Promise<T> {
  return loaded.finally(underWay());
}

function free(group: THREE.Object3D) {
  group.traverse((object) => {
    if (object instanceof THREE.Mesh) {
      object.geometry.dispose();
      [object.material].flat().forEach((m: THREE.Material) => m.dispose());
    }
  });
}
