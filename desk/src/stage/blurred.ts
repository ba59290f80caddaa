import * as THREE from "three";
import type { Depths } from "./depths";
import { inNumbers } from "./depths";
import { type Canvas, FACE_LOOKUP, type LensGrid, type Pulled, DIRECTION_VERTEX } from "./pulled";
import type { Soft } from "./softness";

const FLAT_VERTEX = "void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }";
/** How far, as a share of the canvas's width, blur is drawn at most; and of how many places the light is gathered. */
const MOST = 0.09;
const GATHERED = 128;
/** Tiles within which the largest blur before the focus is looked for, beside each other. */
const TILES = 6;

/**
 * Of each pixel: by how many it is blurred (half the breadth; below 0 before the focus), the inverse of its depth, and
 * whether anything is drawn there.
 */
const SPREAD = `
  uniform float radius;
  uniform float most;
  vec4 spread(float q, float here, float larger) { return vec4(clamp(larger * radius * (q - here), -most, most), here, step(0.5, larger), 1.0); }
`;
const SPREAD_FLAT = `
  uniform sampler2D depth;
  uniform vec4 frame;
  uniform vec3 q;
  ${SPREAD}
  void main() {
    vec2 uv = (gl_FragCoord.xy - frame.xy) / frame.zw;
    gl_FragColor = spread(q.x + q.y * uv.x + q.z * uv.y, texelFetch(depth, ivec2(gl_FragCoord.xy), 0).r, 1.0);
  }
`;
const SPREAD_PULLED = `
  uniform sampler2D depth;
  uniform vec3 q;
  varying vec4 looks;
  ${SPREAD}
  ${FACE_LOOKUP}
  void main() {
    vec2 aside = looks.z < -1e-4 ? looks.xy / -looks.z : vec2(0.0);
    gl_FragColor = spread(q.x + dot(q.yz, aside), texture2D(depth, on_faces(looks.xyz)).r, looks.w);
  }
`;
const COLOUR_PULLED = `
  uniform sampler2D faces;
  varying vec4 looks;
  ${FACE_LOOKUP}
  void main() { gl_FragColor = looks.w < 0.5 ? vec4(0.0) : texture2D(faces, on_faces(looks.xyz)); }
`;
/** How far anything before the focus is blurred, in each tile; then in all from which it would reach a tile. */
const TILE = `
  uniform sampler2D spreads;
  uniform int tile;
  uniform vec4 bounds;
  void main() {
    ivec2 from = ivec2(gl_FragCoord.xy) * tile;
    float largest = 0.0;
    for (int y = 0; y < tile; y++) for (int x = 0; x < tile; x++) {
      ivec2 at = from + ivec2(x, y);
      if (float(at.x) < bounds.x || float(at.y) < bounds.y || float(at.x) >= bounds.z || float(at.y) >= bounds.w) continue;
      largest = max(largest, -texelFetch(spreads, at, 0).r);
    }
    gl_FragColor = vec4(largest, 0.0, 0.0, 1.0);
  }
`;
const REACHED = `
  uniform sampler2D spreads;
  uniform int tile;
  void main() {
    ivec2 at = ivec2(gl_FragCoord.xy), size = textureSize(spreads, 0);
    float largest = 0.0;
    for (int y = -${TILES + 1}; y <= ${TILES + 1}; y++) for (int x = -${TILES + 1}; x <= ${TILES + 1}; x++) {
      ivec2 other = at + ivec2(x, y);
      if (other.x < 0 || other.y < 0 || other.x >= size.x || other.y >= size.y) continue;
      float reach = texelFetch(spreads, other, 0).r;
      float apart = length(max(vec2(abs(x), abs(y)) - 1.0, 0.0)) * float(tile);
      if (reach >= apart) largest = max(largest, reach);
    }
    gl_FragColor = vec4(largest, 0.0, 0.0, 1.0);
  }
`;
const GATHER = `
  uniform sampler2D colours;
  uniform sampler2D spreads;
  uniform sampler2D reaches;
  uniform sampler2D radii;
  uniform int tile;
  uniform vec2 size;
  uniform vec4 frame;
  uniform vec4 bounds;
  uniform float farthest;
  uniform vec2 weights;
  uniform vec2 edgeRadius;
  uniform vec4 edgeAt[2];
  uniform vec3 sky;
  uniform vec3 around;
  const float TURN = 6.2831853;
  /** How far the disc reaches that way, of half its breadth. */
  float extent(vec2 s) {
    int n = textureSize(radii, 0).x;
    if (n < 2) return 1.0;
    float at = fract(atan(s.y, s.x) / TURN + 1.0) * float(n);
    int first = int(at);
    return mix(texelFetch(radii, ivec2(first % n, 0), 0).r, texelFetch(radii, ivec2((first + 1) % n, 0), 0).r, at - float(first));
  }
  /** How bright the disc of something blurred over r pixels is so far from its middle: 0 beside it, about 1 on it. */
  float disc(vec2 off, float r, vec2 uv) {
    float half_breadth = max(abs(r), 0.5);
    vec2 s = off / (r < 0.0 ? -half_breadth : half_breadth);
    float inside = clamp(half_breadth * extent(s) - length(off) + 0.5, 0.0, 1.0);
    for (int n = 0; n < 2; n++) {
      if (edgeRadius[n] == 0.0) continue;
      vec2 from_middle = s - vec2(edgeAt[n].x + edgeAt[n].y * uv.x, edgeAt[n].z + edgeAt[n].w * uv.y);
      inside *= clamp((edgeRadius[n] - length(from_middle)) * half_breadth + 0.5, 0.0, 1.0);
    }
    return inside * max(weights.x + weights.y * min(dot(s, s), 2.0), 0.0);
  }
  void main() {
    vec2 p = gl_FragCoord.xy, uv = (p - frame.xy) / frame.zw;
    vec4 here = texelFetch(spreads, ivec2(p), 0), own = texelFetch(colours, ivec2(p), 0);
    float reach = texelFetch(reaches, ivec2(p) / tile, 0).r;
    float own_near = smoothstep(0.4, 1.2, -here.r);
    vec4 far = own * (1.0 - own_near), near = vec4(0.0);
    float far_sum = 1.0 - own_near, near_sum = 0.0;
    vec4 behind = vec4(0.0);
    float behind_sum = 0.0;
    for (int turn = 0; turn < 2; turn++) {
      // First what lies before the focus and spreads over other things; then all else, as far as this place is blurred.
      float wide = turn == 0 ? max(reach, 0.0) : abs(here.r) * (1.0 - own_near);
      if (wide < 0.4) continue;
      int n = int(clamp(wide * wide * 0.7, 10.0, ${GATHERED}.0));
      float each = wide * farthest / sqrt(float(n)), level = log2(each * 0.7);
      float area = each * each;
      if (turn == 1) { far = vec4(0.0); far_sum = 0.0; }
      for (int k = 0; k < ${GATHERED}; k++) {
        if (k >= n) break;
        float r = sqrt((float(k) + 0.5) / float(n)) * farthest * wide, a = 2.3999632 * float(k);
        vec2 off = r * vec2(cos(a), sin(a)), from = clamp(p - off, bounds.xy + 0.5, bounds.zw - 0.5);
        vec4 there = texelFetch(spreads, ivec2(from), 0);
        float nearness = smoothstep(0.4, 1.2, -there.r);
        if (turn == 0 ? nearness == 0.0 && own_near == 0.0 : nearness == 1.0) continue;
        // Coarser where places are gathered farther apart, but not so coarse that what lies beside the picture is
        // mixed in.
        float inside = min(min(from.x - bounds.x, from.y - bounds.y), min(bounds.z - from.x, bounds.w - from.y));
        vec4 colour = textureLod(colours, from / size, max(0.0, min(level, log2(inside) - 1.0)));
        if (turn == 0) {
          float light = nearness * disc(off, there.r, uv) * area / max(there.r * there.r, 0.25);
          near += light * colour;
          near_sum += light;
          behind += (1.0 - nearness) * colour;
          behind_sum += 1.0 - nearness;
        } else {
          // What lies behind does not spread over what is sharper before it.
          float blur = there.g < here.g ? min(abs(there.r), abs(here.r)) : abs(there.r);
          float light = (1.0 - nearness) * disc(off, there.r < 0.0 ? -blur : blur, uv) * area / max(blur * blur, 0.25);
          far += light * colour;
          far_sum += light;
        }
      }
      if (turn == 1 && far_sum < 1e-4) { far = own; far_sum = 1.0; }
    }
    if (far_sum < 1e-4) { far = behind; far_sum = behind_sum; }
    if (far_sum < 1e-4) { far = near; far_sum = near_sum; }
    float over = clamp(near_sum, 0.0, 1.0);
    vec4 met = far_sum > 0.0 ? far / far_sum : own;
    if (near_sum > 1e-4) met = mix(met, near / near_sum, over);
    gl_FragColor = vec4(met.rgb / max(met.a, 0.001), 1.0);
    #include <tonemapping_fragment>
    #include <colorspace_fragment>
    gl_FragColor.rgb = mix(sky, gl_FragColor.rgb, clamp(met.a, 0.0, 1.0));
    if (here.b < 0.5) gl_FragColor.rgb = around;
  }
`;

const laid = <U extends Record<string, { value: unknown }>>(
  vertexShader: string,
  fragmentShader: string,
  uniforms: U,
) =>
  Object.assign(
    new THREE.ShaderMaterial({ vertexShader, fragmentShader, uniforms, depthTest: false, depthWrite: false }),
    { values: uniforms },
  );
const texture = () => ({ value: null as THREE.Texture | null });

/**
 * Draws a picture with its blur, from its colours and depths, the disc the sheet tells and how much each place is
 * blurred: a preview, as what hides behind something blurred is guessed.
 */
export class Blurred {
  private readonly colours = new THREE.WebGLRenderTarget(1, 1, {
    type: THREE.HalfFloatType,
    samples: 4,
    generateMipmaps: true,
    minFilter: THREE.LinearMipmapLinearFilter,
  });
  private readonly pulledColours = new THREE.WebGLRenderTarget(1, 1, {
    type: THREE.HalfFloatType,
    generateMipmaps: true,
    minFilter: THREE.LinearMipmapLinearFilter,
    depthBuffer: false,
  });
  private readonly spreads = inNumbers();
  private readonly tiles = inNumbers();
  private readonly reached = inNumbers();
  private readonly spreading = {
    depth: texture(),
    frame: { value: new THREE.Vector4() },
    q: { value: new THREE.Vector3() },
    radius: { value: 0 },
    most: { value: 0 },
  };
  private readonly spreadFlat = laid(FLAT_VERTEX, SPREAD_FLAT, this.spreading);
  private readonly spreadPulled = laid(DIRECTION_VERTEX, SPREAD_PULLED, this.spreading);
  private readonly colourPulled = laid(DIRECTION_VERTEX, COLOUR_PULLED, { faces: texture() });
  private readonly tiling = laid(FLAT_VERTEX, TILE, {
    spreads: texture(),
    tile: { value: 1 },
    bounds: { value: new THREE.Vector4() },
  });
  private readonly reaching = laid(FLAT_VERTEX, REACHED, { spreads: texture(), tile: { value: 1 } });
  private readonly gathering;
  private readonly quad = new THREE.Mesh<THREE.PlaneGeometry, THREE.Material>(
    new THREE.PlaneGeometry(2, 2),
    this.spreadFlat,
  );
  private readonly scene = new THREE.Scene();
  private readonly flat = new THREE.Camera();
  /** The shape of the disc as the shader has it. */
  private shaped = "";

  constructor(sky: THREE.Vector3, around: THREE.Vector3) {
    this.gathering = laid(FLAT_VERTEX, GATHER, {
      colours: texture(),
      spreads: texture(),
      reaches: texture(),
      radii: { value: outline(null) },
      tile: { value: 1 },
      size: { value: new THREE.Vector2() },
      frame: { value: new THREE.Vector4() },
      bounds: { value: new THREE.Vector4() },
      farthest: { value: 1 },
      weights: { value: new THREE.Vector2(1, 0) },
      edgeRadius: { value: new THREE.Vector2() },
      edgeAt: { value: [new THREE.Vector4(), new THREE.Vector4()] },
      sky: { value: sky },
      around: { value: around },
    });
    this.quad.frustumCulled = false;
    this.scene.add(this.quad);
  }

  /**
   * A picture seen with a matrix, `wide` × `high` pixels large; the renderer's viewport and scissor are where it is
   * drawn.
   */
  draw(
    renderer: THREE.WebGLRenderer,
    set: THREE.Scene,
    eye: THREE.Camera,
    depths: Depths,
    soft: Soft,
    canvas: Canvas,
    wide: number,
    high: number,
  ) {
    const place = renderer.getViewport(new THREE.Vector4());
    this.colours.setSize(wide, high);
    this.colours.viewport.copy(place);
    this.colours.scissor.copy(place);
    const [colour, alpha, background] = [
      renderer.getClearColor(new THREE.Color()),
      renderer.getClearAlpha(),
      set.background,
    ];
    set.background = null;
    renderer.setClearColor("#000000", 0);
    renderer.setRenderTarget(this.colours);
    renderer.clear();
    renderer.render(set, eye);
    renderer.setRenderTarget(null);
    set.background = background;
    renderer.setClearColor(colour, alpha);
    this.spreading.depth.value = depths.through(renderer, set, eye, soft.fromStand, wide, high);
    this.tell(soft, canvas, soft.blur.at ?? [soft.blur.focus_per_m, 0, 0], wide);
    this.into(renderer, this.spreads, this.spreadFlat, wide, high);
    this.gather(renderer, this.colours.texture, place, wide, high);
  }

  /** A picture whose faces were just drawn, pulled through a grid. */
  pull(
    renderer: THREE.WebGLRenderer,
    pulled: Pulled,
    grid: LensGrid,
    depth: THREE.Texture,
    soft: Soft,
    canvas: Canvas,
    wide: number,
    high: number,
  ) {
    const scissor = renderer.getScissor(new THREE.Vector4());
    this.colourPulled.values.faces.value = pulled.colours;
    this.spreading.depth.value = depth;
    this.tell(soft, canvas, [soft.blur.focus_per_m, ...soft.blur.lean], wide);
    for (const [target, material] of [
      [this.pulledColours, this.colourPulled],
      [this.spreads, this.spreadPulled],
    ] as const) {
      target.setSize(wide, high);
      renderer.setRenderTarget(target);
      renderer.clear();
      pulled.lay(renderer, grid, canvas, material);
      renderer.setRenderTarget(null);
    }
    this.gather(renderer, this.pulledColours.texture, scissor, wide, high);
  }

  /** What of each pixel lands where: `place` is all that is drawn of the canvas. */
  private gather(
    renderer: THREE.WebGLRenderer,
    colours: THREE.Texture,
    place: THREE.Vector4,
    wide: number,
    high: number,
  ) {
    const tile = Math.max(2, Math.ceil((MOST * wide) / TILES));
    const bounds = new THREE.Vector4(
      place.x,
      place.y,
      Math.min(wide, place.x + place.z),
      Math.min(high, place.y + place.w),
    );
    const [across, upright] = [Math.ceil(wide / tile), Math.ceil(high / tile)];
    const own = this.gathering.values;
    this.tiling.values.spreads.value = own.spreads.value = this.spreads.texture;
    this.tiling.values.tile.value = this.reaching.values.tile.value = own.tile.value = tile;
    this.tiling.values.bounds.value = own.bounds.value = bounds;
    this.into(renderer, this.tiles, this.tiling, across, upright);
    this.reaching.values.spreads.value = this.tiles.texture;
    this.into(renderer, this.reached, this.reaching, across, upright);
    own.reaches.value = this.reached.texture;
    own.colours.value = colours;
    own.size.value.set(wide, high);
    renderer.setViewport(0, 0, wide, high);
    renderer.setScissor(place);
    this.lay(renderer, this.gathering);
  }

  private into(
    renderer: THREE.WebGLRenderer,
    target: THREE.WebGLRenderTarget,
    material: THREE.Material,
    wide: number,
    high: number,
  ) {
    target.setSize(wide, high);
    renderer.setRenderTarget(target);
    this.lay(renderer, material);
    renderer.setRenderTarget(null);
  }

  private lay(renderer: THREE.WebGLRenderer, material: THREE.Material) {
    this.quad.material = material;
    const clipping = renderer.clippingPlanes;
    renderer.clippingPlanes = [];
    renderer.autoClear = false;
    renderer.render(this.scene, this.flat);
    renderer.autoClear = true;
    renderer.clippingPlanes = clipping;
  }

  private tell(
    { blur, across }: Soft,
    { frame, height, ratio }: Canvas,
    q: readonly [number, number, number],
    wide: number,
  ) {
    const place = [
      frame.left * ratio,
      (height - frame.top - frame.height) * ratio,
      frame.width * ratio,
      frame.height * ratio,
    ] as const;
    this.spreading.frame.value.set(...place);
    this.gathering.values.frame.value.set(...place);
    this.spreading.q.value.set(...q);
    this.spreading.radius.value = (blur.times_px * frame.width * ratio) / across / 2;
    this.spreading.most.value = MOST * wide;
    const { shape } = blur;
    if (!shape) return;
    const shaped = JSON.stringify(shape);
    if (shaped === this.shaped) return;
    this.shaped = shaped;
    const own = this.gathering.values;
    own.radii.value.dispose();
    own.radii.value = outline(shape.radii);
    own.farthest.value = Math.max(1, ...(shape.radii ?? []));
    own.weights.value.set(...shape.weights);
    own.edgeRadius.value.set(shape.edges[0]?.radius ?? 0, shape.edges[1]?.radius ?? 0);
    shape.edges.forEach(({ x, y }, n) => own.edgeAt.value[n]?.set(...x, ...y));
  }

  dispose() {
    [
      this.colours,
      this.pulledColours,
      this.spreads,
      this.tiles,
      this.reached,
      this.spreadFlat,
      this.spreadPulled,
      this.colourPulled,
      this.tiling,
      this.reaching,
      this.gathering,
      this.gathering.values.radii.value,
      this.quad.geometry,
    ].forEach((one) => one.dispose());
  }
}

/** How far a disc reaches in directions all round, as numbers a shader looks up; a single one where it is round. */
function outline(radii: readonly number[] | null): THREE.DataTexture {
  const numbers = Float32Array.from(radii ?? [1]);
  const made = new THREE.DataTexture(numbers, numbers.length, 1, THREE.RedFormat, THREE.FloatType);
  made.needsUpdate = true;
  return made;
}
