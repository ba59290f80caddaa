import * as THREE from "three";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import type { Project } from "../api/client";
import { metresAround } from "./reach";

/** Where the frame lies in the canvas, in CSS pixels from its top left. */
export interface FrameRect { left: number; top: number; width: number; height: number }

/**
 * Draws the set by matrices it is given. It knows the set and its light, and nothing of lenses: view and
 * projection come from the sheet; the projection is only widened from the frame to the canvas around it.
 */
export class Stage {
  readonly scene = new THREE.Scene();
  private camera = new THREE.Camera();
  private renderer: THREE.WebGLRenderer;
  private sun = new THREE.DirectionalLight(0xfff1dd, 4.2);
  private root: THREE.Group | null = null;
  private parts: THREE.Object3D[][] = [];
  private shadowsAt = new THREE.Vector3(Infinity, 0, 0);
  private size = { width: 1, height: 1 };

  constructor(canvas: HTMLCanvasElement) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, preserveDrawingBuffer: true });
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.renderer.shadowMap.autoUpdate = false;
    this.renderer.toneMapping = THREE.AgXToneMapping;
    this.renderer.toneMappingExposure = 1.15;
    this.camera.matrixAutoUpdate = false;
    this.scene.add(new THREE.HemisphereLight(0xeef3fb, 0xcfc8bc, 3.1));
    this.sun.castShadow = true;
    this.sun.shadow.mapSize.set(2048, 2048);
    this.sun.shadow.bias = -0.0006;
    this.sun.shadow.normalBias = 0.02;
    this.scene.add(this.sun, this.sun.target);
    this.scene.background = new THREE.Color("#c9d3de");
  }

  async load(url: string): Promise<void> {
    const model = await new GLTFLoader().loadAsync(url);
    this.root = model.scene;
    // The file is Y up; the world is Z up.
    this.root.matrixAutoUpdate = false;
    this.root.matrix.set(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1);
    this.root.traverse((object) => {
      const numbered = /^part-(\d+)$/.exec(object.name);
      if (numbered) (this.parts[Number(numbered[1])] ??= []).push(object);
      if (object instanceof THREE.Mesh) {
        object.castShadow = object.receiveShadow = true;
        for (const material of [object.material].flat()) {
          // A lamp of thousands of cd/m² is just white to the eye.
          if (material instanceof THREE.MeshStandardMaterial) material.emissiveIntensity = Math.min(material.emissiveIntensity, 1);
        }
      }
    });
    this.scene.add(this.root);
    this.shadowsAt.setX(Infinity);
  }

  light(sunward: Project["sunward"]) {
    this.sun.userData.toward = new THREE.Vector3(...sunward);
    this.sun.intensity = sunward[2] > 0 ? 4.2 : 0;
    this.shadowsAt.setX(Infinity);
  }

  lift(lifted: number[]) {
    const gone = new Set(lifted);
    this.parts.forEach((objects, number) => objects.forEach((object) => { object.visible = !gone.has(number); }));
    this.shadowsAt.setX(Infinity);
  }

  resize(width: number, height: number) {
    this.size = { width, height };
    this.renderer.setSize(width, height, false);
  }

  /** Draw with the sheet's matrices (row by row). `around`: whether what lies outside the frame is drawn too. */
  draw(view: number[], projection: number[], frame: FrameRect, around: boolean) {
    const { width, height } = this.size;
    const v = new THREE.Matrix4().set(...(view as Parameters<THREE.Matrix4["set"]>));
    this.camera.matrix.copy(v).invert();
    this.camera.matrixWorld.copy(this.camera.matrix);
    this.camera.matrixWorldInverse.copy(v);
    const p = new THREE.Matrix4().set(...(projection as Parameters<THREE.Matrix4["set"]>));
    this.renderer.setScissorTest(false);
    this.renderer.setClearColor("#777777", 1);
    if (around) {
      const sx = frame.width / width;
      const sy = frame.height / height;
      const cx = (2 * frame.left + frame.width) / width - 1;
      const cy = 1 - (2 * frame.top + frame.height) / height;
      p.premultiply(new THREE.Matrix4().set(sx, 0, 0, cx, 0, sy, 0, cy, 0, 0, 1, 0, 0, 0, 0, 1));
      this.renderer.setViewport(0, 0, width, height);
    } else {
      this.renderer.clear();
      const bottom = height - frame.top - frame.height;
      this.renderer.setViewport(frame.left, bottom, frame.width, frame.height);
      this.renderer.setScissor(frame.left, bottom, frame.width, frame.height);
      this.renderer.setScissorTest(true);
    }
    this.camera.projectionMatrix.copy(p);
    this.camera.projectionMatrixInverse.copy(p).invert();
    this.shadows(new THREE.Vector3().setFromMatrixPosition(this.camera.matrix));
    this.renderer.render(this.scene, this.camera);
  }

  /** The shadow map follows the camera, in steps, so that it stays fine where one looks. */
  private shadows(eye: THREE.Vector3) {
    if (eye.distanceTo(this.shadowsAt) < 4) return;
    this.shadowsAt.copy(eye);
    const reach = metresAround;
    const toward = (this.sun.userData.toward as THREE.Vector3 | undefined) ?? new THREE.Vector3(0.4, -0.6, 0.7);
    this.sun.target.position.copy(eye);
    this.sun.position.copy(eye).addScaledVector(toward, 3 * reach);
    const box = this.sun.shadow.camera;
    box.left = box.bottom = -reach;
    box.right = box.top = reach;
    box.near = 0.5;
    box.far = 6 * reach;
    box.updateProjectionMatrix();
    this.renderer.shadowMap.needsUpdate = true;
  }

  dispose() {
    this.root?.traverse((object) => {
      if (object instanceof THREE.Mesh) {
        object.geometry.dispose();
        [object.material].flat().forEach((m: THREE.Material) => m.dispose());
      }
    });
    this.renderer.dispose();
  }
}
