import {
  CanvasTexture,
  ClampToEdgeWrapping,
  Color,
  DataTexture,
  FloatType,
  LinearFilter,
  Mesh,
  MeshBasicMaterial,
  NearestFilter,
  PerspectiveCamera,
  PlaneGeometry,
  RedFormat,
  Scene,
  ShaderMaterial,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import type { RawMap } from "../api/maps";
import type { Picture } from "./paint";

const VERTEX = `
uniform sampler2D heights; uniform vec2 size; uniform float low; uniform float lift; uniform float span;
varying vec2 at;
void main() {
  at = vec2(uv.x, 1.0 - uv.y);
  vec2 texel = (at * (size - 1.0) + 0.5) / size;
  float z = (texture2D(heights, texel).r - low) * lift / span;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position.xy, z, 1.0);
}`;

const FRAGMENT = `
uniform sampler2D heights; uniform sampler2D colours; uniform vec2 size; uniform vec2 spacing; uniform float lift;
uniform float lit; uniform vec3 sun;
varying vec2 at;
float lightOf(vec3 n, vec3 from) { return 0.45 + 0.65 * max(dot(n, from), 0.0); }
void main() {
  vec2 texel = (at * (size - 1.0) + 0.5) / size;
  vec3 colour = texture2D(colours, texel).rgb;
  vec2 d = 1.0 / size;
  float e = texture2D(heights, texel + vec2(d.x, 0.0)).r - texture2D(heights, texel - vec2(d.x, 0.0)).r;
  float s = texture2D(heights, texel + vec2(0.0, d.y)).r - texture2D(heights, texel - vec2(0.0, d.y)).r;
  vec3 n = normalize(vec3(-e * lift / (2.0 * spacing.x), s * lift / (2.0 * spacing.y), 1.0));
  float light = lightOf(n, sun);
  // Colours that already hold the usual light from the north-west are lit anew.
  float held = lightOf(n, vec3(-0.5, 0.5, 0.7071));
  gl_FragColor = vec4(mix(colour * light / held, colour * light, lit), 1.0);
}`;

/** A software renderer gets a coarser mesh: its frames would otherwise take a third of a second. */
function meshDensity(renderer: WebGLRenderer): number {
  const gl = renderer.getContext();
  const info = gl.getExtension("WEBGL_debug_renderer_info");
  const name = String(info ? gl.getParameter(info.UNMASKED_RENDERER_WEBGL) : "");
  return /swiftshader|software|llvmpipe/i.test(name) ? 160 : 512;
}

/** The ground in three dimensions, coloured by the current picture. Draws only when something changed. */
export class ReliefScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(38, 1, 0.01, 20);
  private readonly controls: OrbitControls;
  private readonly material: ShaderMaterial;
  private mesh: Mesh | null = null;
  private heights: DataTexture | null = null;
  private heightKey = "";
  private readonly sheet = document.createElement("canvas");
  private colours: CanvasTexture | null = null;
  private painted: Picture | null = null;
  private readonly surface = new Mesh(
    new PlaneGeometry(1, 1),
    new MeshBasicMaterial({ color: 0x56808f, transparent: true, opacity: 0.6 }),
  );
  private readonly measure = { low: 0, lift: 1, span: 1 };
  private level: number | null = null;
  private frame = 0;
  private placed = false;

  constructor(canvas: HTMLCanvasElement, surround: string) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true });
    this.scene.background = new Color(surround);
    this.surface.visible = false;
    this.scene.add(this.surface);
    this.camera.position.set(0, -1.15, 0.85);
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.maxPolarAngle = Math.PI * 0.49;
    this.controls.minDistance = 0.08;
    this.controls.maxDistance = 3;
    this.controls.addEventListener("change", this.ask);
    this.material = new ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: {
        heights: { value: null },
        colours: { value: null },
        size: { value: [2, 2] },
        spacing: { value: [1, 1] },
        low: { value: 0 },
        lift: { value: 1 },
        span: { value: 1 },
        lit: { value: 0 },
        sun: { value: [-0.5, 0.5, 0.7071] },
      },
    });
  }

  private uniform(name: string, value: unknown): void {
    const slot = this.material.uniforms[name];
    if (slot) slot.value = value;
  }

  /** Light from degrees clockwise from north, degrees above the horizon. */
  setSun(azimuth: number, altitude: number): void {
    const [a, h] = [(azimuth * Math.PI) / 180, (altitude * Math.PI) / 180];
    this.uniform("sun", [Math.sin(a) * Math.cos(h), Math.cos(a) * Math.cos(h), Math.sin(h)]);
    this.ask();
  }

  /** A surface at a height in metres, or none. */
  setWater(level: number | null): void {
    this.level = level;
    this.flood();
  }

  private flood(): void {
    const { low, lift, span } = this.measure;
    this.surface.visible = this.level !== null && this.mesh !== null;
    if (this.level !== null) this.surface.position.z = ((this.level - low) * lift) / span;
    this.ask();
  }

  setHeights(map: RawMap, exaggeration: number): void {
    const longer = Math.max(map.grid.width, map.grid.length);
    this.uniform("lift", exaggeration);
    this.measure.lift = exaggeration;
    if (this.heightKey !== map.key) {
      this.heightKey = map.key;
      this.heights?.dispose();
      const values = map.values instanceof Float32Array ? map.values : Float32Array.from(map.values);
      let low = Infinity;
      for (const v of values) if (v < low) low = v;
      // Gaps in the ground lie at its lowest height: a mesh needs some.
      const solid = values.map((v) => (Number.isNaN(v) ? low : v));
      this.heights = new DataTexture(solid, map.cols, map.rows, RedFormat, FloatType);
      const smooth = this.renderer.getContext().getExtension("OES_texture_float_linear") !== null;
      this.heights.minFilter = this.heights.magFilter = smooth ? LinearFilter : NearestFilter;
      this.heights.wrapS = this.heights.wrapT = ClampToEdgeWrapping;
      this.heights.needsUpdate = true;
      this.uniform("heights", this.heights);
      this.uniform("size", [map.cols, map.rows]);
      this.uniform("spacing", [map.grid.width / (map.cols - 1), map.grid.length / (map.rows - 1)]);
      this.uniform("low", low);
      this.uniform("span", longer);
      this.measure.low = low;
      this.measure.span = longer;
      this.surface.scale.set(map.grid.width / longer, map.grid.length / longer, 1);
      this.build(map.grid.width / longer, map.grid.length / longer);
    }
    this.flood();
  }

  private build(width: number, length: number): void {
    if (this.mesh) {
      this.scene.remove(this.mesh);
      this.mesh.geometry.dispose();
    }
    const density = meshDensity(this.renderer);
    const geometry = new PlaneGeometry(width, length, Math.round(density * width), Math.round(density * length));
    this.mesh = new Mesh(geometry, this.material);
    this.mesh.frustumCulled = false;
    this.scene.add(this.mesh);
  }

  setPicture(picture: Picture): void {
    const image = picture.panels[0]?.image;
    if (this.painted === picture || !image) return;
    this.painted = picture;
    if (this.sheet.width !== image.width || this.sheet.height !== image.height) {
      this.sheet.width = image.width;
      this.sheet.height = image.height;
      this.colours?.dispose();
      this.colours = null;
    }
    this.sheet.getContext("2d")?.putImageData(image, 0, 0);
    if (!this.colours) {
      this.colours = new CanvasTexture(this.sheet);
      this.colours.flipY = false;
      this.colours.generateMipmaps = false;
      this.colours.minFilter = this.colours.magFilter = LinearFilter;
      this.uniform("colours", this.colours);
    }
    this.colours.needsUpdate = true;
    this.uniform("lit", picture.shaded ? 0 : 1);
    this.ask();
  }

  resize(width: number, height: number): void {
    if (width < 2 || height < 2) return;
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio || 1, 2));
    this.renderer.setSize(width, height, false);
    // In a narrow view step back, so that the whole width is seen at first.
    if (!this.placed) this.camera.position.multiplyScalar(Math.max(1, (1.15 * height) / width));
    this.placed = true;
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    this.ask();
  }

  /** Turn or approach without a mouse. */
  nudge(turn: number, tilt: number, nearer: number): void {
    const p = this.camera.position;
    const flat = Math.hypot(p.x, p.y);
    const angle = Math.atan2(p.y, p.x) + turn;
    const distance = Math.max(0.1, Math.min(3, p.length() * (1 - nearer)));
    const rise = Math.max(0.05, Math.min(1.5, Math.atan2(p.z, flat) + tilt));
    p.set(
      Math.cos(angle) * Math.cos(rise) * distance,
      Math.sin(angle) * Math.cos(rise) * distance,
      Math.sin(rise) * distance,
    );
    this.controls.update();
    this.ask();
  }

  readonly ask = (): void => {
    if (this.frame) return;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      if (this.mesh && this.colours) this.renderer.render(this.scene, this.camera);
    });
  };

  dispose(): void {
    cancelAnimationFrame(this.frame);
    this.controls.dispose();
    this.mesh?.geometry.dispose();
    this.material.dispose();
    this.surface.geometry.dispose();
    this.surface.material.dispose();
    this.heights?.dispose();
    this.colours?.dispose();
    this.renderer.dispose();
  }
}
