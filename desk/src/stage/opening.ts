import * as THREE from "three";

/** A plane that opens the set: what lies on the side it points to is not drawn. */
export interface Cutting {
  point: readonly number[];
  normal: readonly number[];
}
/** The faces that closes cut solids with. */
export interface Cap {
  points: readonly number[];
  triangles: readonly number[];
}

const CUT_FACE = "#333736";

/** Opens what is drawn of a set by a plane, its shadows too, and closes it with the faces the core tells. */
export class Opening {
  readonly cap = new THREE.Mesh(
    new THREE.BufferGeometry(),
    new THREE.MeshBasicMaterial({ color: CUT_FACE, side: THREE.DoubleSide, toneMapped: false }),
  );
  private readonly plane = new THREE.Plane();
  private readonly planes = [this.plane];
  private opened = "";
  private on = false;
  private capped: Cap | null = null;

  constructor() {
    this.cap.visible = false;
    this.cap.frustumCulled = false;
  }

  /** Whether shadows are other than they were. `whole`: what is opened. */
  open(cutting: Cutting | null, cap: Cap | null, whole: THREE.Object3D[]): boolean {
    this.close(cap);
    const opened = JSON.stringify(cutting);
    if (opened === this.opened) return false;
    this.opened = opened;
    if (cutting) {
      const toward = new THREE.Vector3(...(cutting.normal as [number, number, number])).normalize().negate();
      this.plane.setFromNormalAndCoplanarPoint(
        toward,
        new THREE.Vector3(...(cutting.point as [number, number, number])),
      );
    }
    if (this.on !== (cutting !== null)) {
      this.on = cutting !== null;
      whole.forEach((object) => this.apply(object));
    }
    return true;
  }

  /** What comes to the set while it is open is opened too. */
  apply(object: THREE.Object3D) {
    object.traverse((mesh) => {
      if (mesh instanceof THREE.Mesh)
        [mesh.material].flat().forEach((material: THREE.Material) => this.bound(material));
    });
  }

  bound(material: THREE.Material) {
    material.clippingPlanes = this.on ? this.planes : null;
    material.clipShadows = true;
  }

  private close(cap: Cap | null) {
    this.cap.visible = cap !== null && cap.triangles.length > 0;
    if (cap === null || cap === this.capped) return;
    this.capped = cap;
    this.cap.geometry.dispose();
    this.cap.geometry = new THREE.BufferGeometry();
    this.cap.geometry.setAttribute("position", new THREE.Float32BufferAttribute([...cap.points], 3));
    this.cap.geometry.setIndex([...cap.triangles]);
  }
}
