import * as THREE from "three";
import type { Project } from "../api/client";
import { metresAround } from "./reach";

const STRENGTH = 4.2;
/** How far shadows are drawn round a set that is small, as a share of its own reach. */
const SHADOWS_ROUND_IT = 2.5;
/** How far the camera goes before they are drawn anew, as a share of their reach. */
const STEP = 0.2;

/** The sun, and the shadows it casts: their map follows the camera, so that it stays fine where one looks. */
export class Sunlight {
  readonly light = new THREE.DirectionalLight(0xfff1dd, STRENGTH);
  private readonly toward = new THREE.Vector3(0.4, -0.6, 0.7);
  private from = "";
  /** The middle of what the map shows; infinitely far off where it is to be drawn anew. */
  private readonly at = new THREE.Vector3(Infinity, 0, 0);
  private readonly whole = new THREE.Sphere();

  constructor() {
    this.light.castShadow = true;
    this.light.shadow.mapSize.set(2048, 2048);
    this.light.shadow.bias = -0.0006;
  }

  /** What casts shadows has changed. */
  cast() {
    this.at.setX(Infinity);
  }

  /** The sun stands in this direction, and gives no light below the horizon. */
  stand(sunward: Project["sunward"]) {
    const from = sunward.join();
    if (this.from === from) return;
    this.from = from;
    this.toward.set(...sunward);
    this.light.intensity = sunward[2] > 0 ? STRENGTH : 0;
    this.cast();
  }

  /** Shadows round a camera, in steps; a small set is in their map whole. */
  follow(eye: THREE.Vector3, set: THREE.Object3D, renderer: THREE.WebGLRenderer) {
    if (this.at.x === Infinity) new THREE.Box3().setFromObject(set).getBoundingSphere(this.whole);
    const { center, radius } = this.whole;
    const small = radius > 0 && SHADOWS_ROUND_IT * radius < metresAround;
    const reach = small ? SHADOWS_ROUND_IT * radius : metresAround;
    const middle = small ? center : eye;
    if (middle.distanceTo(this.at) < STEP * reach) return;
    this.at.copy(middle);
    this.light.shadow.normalBias = reach / 1300;
    this.light.target.position.copy(middle);
    this.light.position.copy(middle).addScaledVector(this.toward, 3 * reach);
    const box = this.light.shadow.camera;
    box.left = box.bottom = -reach;
    box.right = box.top = reach;
    box.near = 0.02 * reach;
    box.far = 6 * reach;
    box.updateProjectionMatrix();
    renderer.shadowMap.needsUpdate = true;
  }
}
