import * as THREE from "three";

const FARTHEST = 1e30;

/** Bounds what materials draw by its distance from the camera: what is nearer or farther is not there. */
export class WithinBall {
  private readonly bounds = { value: new THREE.Vector2(0, FARTHEST) };

  set(near: number, far: number) {
    this.bounds.value.set(near, Math.min(far, FARTHEST));
  }

  /** The material, bounded. Only lit ones tell their shader how far away a place is. */
  bound(material: THREE.Material): THREE.Material {
    if (!(material instanceof THREE.MeshStandardMaterial)) return material;
    material.onBeforeCompile = (shader) => {
      shader.uniforms.withinBall = this.bounds;
      shader.fragmentShader = shader.fragmentShader
        .replace("void main() {", "uniform vec2 withinBall;\nvoid main() {")
        .replace(
          "#include <clipping_planes_fragment>",
          "#include <clipping_planes_fragment>\nfloat away = length(vViewPosition);\nif (away < withinBall.x || away > withinBall.y) discard;",
        );
    };
    return material;
  }
}
