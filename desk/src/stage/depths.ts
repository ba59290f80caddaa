import * as THREE from "three";
import type { Canvas, FaceAxes, LensGrid, Pulled } from "./pulled";

const VERTEX = `
  #include <clipping_planes_pars_vertex>
  varying vec3 seen;
  void main() {
    vec4 mvPosition = modelViewMatrix * vec4(position, 1.0);
    seen = mvPosition.xyz;
    gl_Position = projectionMatrix * mvPosition;
    #include <clipping_planes_vertex>
  }
`;
const DEPTH = `
  #include <clipping_planes_pars_fragment>
  uniform vec3 axis;
  uniform float fromStand;
  uniform vec2 bounds;
  varying vec3 seen;
  void main() {
    #include <clipping_planes_fragment>
    float away = mix(dot(seen, axis), length(seen), fromStand);
    if (away < bounds.x || away > bounds.y) discard;
    gl_FragColor = vec4(1.0 / away, 0.0, 0.0, 1.0);
  }
`;
const FARTHEST = 1e30;

/** A target for numbers, each of which is one pixel's own. */
export const inNumbers = () =>
  new THREE.WebGLRenderTarget(1, 1, {
    type: THREE.FloatType,
    minFilter: THREE.NearestFilter,
    magFilter: THREE.NearestFilter,
    generateMipmaps: false,
  });

/** How far away the set is, place by place of a picture: the inverse in 1/m, 0 for the sky. */
export class Depths {
  private readonly flat = inNumbers();
  private readonly ofFaces = inNumbers();
  private readonly seen = {
    axis: { value: new THREE.Vector3(0, 0, -1) },
    fromStand: { value: 0 },
    bounds: { value: new THREE.Vector2(0, FARTHEST) },
  };
  /** Draws depths instead of colours; what opens the set opens this too. */
  readonly material = new THREE.ShaderMaterial({
    vertexShader: VERTEX,
    fragmentShader: DEPTH,
    clipping: true,
    side: THREE.DoubleSide,
    uniforms: this.seen,
  });

  /** As a camera sees the set, which was just drawn `wide` × `high` pixels large. */
  through(
    renderer: THREE.WebGLRenderer,
    set: THREE.Scene,
    eye: THREE.Camera,
    fromStand: boolean,
    wide: number,
    high: number,
  ): THREE.Texture {
    this.flat.setSize(wide, high);
    renderer.getViewport(this.flat.viewport);
    this.flat.scissor.copy(this.flat.viewport);
    this.seen.axis.value.set(0, 0, -1);
    this.measured(renderer, set, fromStand, () => {
      renderer.setRenderTarget(this.flat);
      renderer.clear();
      renderer.render(set, eye);
      renderer.setRenderTarget(null);
    });
    return this.flat.texture;
  }

  /**
   * On the faces of a cube round a place, as they were just drawn; `bounds`: what is nearer or farther from the stand
   * is not there.
   */
  onFaces(
    renderer: THREE.WebGLRenderer,
    set: THREE.Scene,
    eye: THREE.Matrix4,
    pulled: Pulled,
    grid: LensGrid,
    fromStand: boolean,
    canvas: Canvas,
    reach: readonly [number, number],
    bounds: readonly [number, number],
  ): THREE.Texture {
    this.seen.bounds.value.set(bounds[0], Math.min(bounds[1], FARTHEST));
    this.measured(renderer, set, fromStand, () =>
      pulled.drawFaces(renderer, set, eye, grid, canvas, ...reach, this.ofFaces, ({ right, up, look }: FaceAxes) =>
        this.seen.axis.value.set(-right[2], -up[2], look[2]),
      ),
    );
    this.seen.bounds.value.set(0, FARTHEST);
    return this.ofFaces.texture;
  }

  /** Only what is of the set has a depth: no sky, no marks of shots, no box, nothing one looks through. */
  private measured(renderer: THREE.WebGLRenderer, set: THREE.Scene, fromStand: boolean, draw: () => void) {
    this.seen.fromStand.value = fromStand ? 1 : 0;
    const [colour, alpha, background] = [
      renderer.getClearColor(new THREE.Color()),
      renderer.getClearAlpha(),
      set.background,
    ];
    const hidden: THREE.Object3D[] = [];
    set.traverseVisible((object) => {
      const seenThrough =
        object instanceof THREE.Mesh &&
        [object.material].flat().some((material: THREE.Material) => material.transparent);
      if (object instanceof THREE.Line || seenThrough) hidden.push(object);
    });
    hidden.forEach((object) => {
      object.visible = false;
    });
    set.background = null;
    set.overrideMaterial = this.material;
    renderer.setClearColor("#000000", 0);
    draw();
    renderer.setClearColor(colour, alpha);
    set.overrideMaterial = null;
    set.background = background;
    hidden.forEach((object) => {
      object.visible = true;
    });
  }

  dispose() {
    [this.flat, this.ofFaces, this.material].forEach((one) => one.dispose());
  }
}
