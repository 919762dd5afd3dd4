import {
  CanvasTexture,
  ClampToEdgeWrapping,
  Color,
  DataTexture,
  FloatType,
  LinearFilter,
  Mesh,
  MeshBasicMaterial,
  MOUSE,
  NearestFilter,
  PerspectiveCamera,
  PlaneGeometry,
  Raycaster,
  RedFormat,
  Scene,
  type ShaderMaterial,
  Vector2,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import type { RawMap } from "../api/maps";
import { groundMaterial } from "./groundMaterial";
import { emptyArray, type NearGround } from "./nearGround";
import type { Picture } from "./imaging";
import { orbited, pixelsAt, sunFrom } from "./orbit";
import { Dots } from "./reliefDots";
import { framed } from "./reliefFrame";
import { ReliefGround } from "./reliefGround";
import { reliefLink, type ReliefLook } from "./reliefLink";
import { inset } from "./places";

const MOST_DISTANCE = 8;

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
  private readonly camera = new PerspectiveCamera(38, 1, 0.0005, 20);
  private readonly controls: OrbitControls;
  private readonly material: ShaderMaterial;
  private readonly nothing = emptyArray();
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
  private readonly ground = new ReliefGround();
  private readonly dots = new Dots(this.scene);
  /** Told after every frame: what lies over the canvas must follow. */
  onFrame: (() => void) | null = null;
  private level: number | null = null;
  private frame = 0;
  /** Whether somebody chose where to look from; until then all of the ground is in view. */
  private chosen = false;

  private readonly leave: () => void;
  private following = false;

  constructor(canvas: HTMLCanvasElement, surround: string) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true });
    this.scene.background = new Color(surround);
    this.surface.visible = false;
    this.scene.add(this.surface);
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.maxPolarAngle = Math.PI * 0.49;
    this.controls.minDistance = 0.004;
    this.controls.maxDistance = MOST_DISTANCE;
    this.controls.addEventListener("start", () => (this.chosen = true));
    this.controls.addEventListener("change", this.ask);
    this.leave = reliefLink.join(this, (look) => this.follow(look));
    this.material = groundMaterial(this.nothing);
  }

  private uniform(name: string, value: unknown): void {
    const slot = this.material.uniforms[name];
    if (slot) slot.value = value;
  }

  /** Light from degrees clockwise from north, degrees above the horizon. */
  setSun(azimuth: number, altitude: number): void {
    this.uniform("sun", sunFrom(azimuth, altitude));
    this.ask();
  }

  /** Textures for close ground, or none; ``painted``: the colours shown are a colour map that lies over them. */
  setNear(near: NearGround | null, painted: boolean): void {
    this.uniform("albedo", near?.albedo ?? this.nothing);
    this.uniform("bumps", near?.normal ?? this.nothing);
    this.uniform("weights", near?.weights ?? this.nothing);
    this.uniform("layers", near?.count ?? 0);
    this.uniform("painted", painted ? 1 : 0);
    if (near) {
      this.uniform("sizes", near.sizes);
      this.uniform("turns", near.turns);
      this.uniform("tints", near.tints);
    }
    this.ask();
  }

  /** A surface at a height in metres, or none. */
  setWater(level: number | null): void {
    this.level = level;
    this.flood();
  }

  private flood(): void {
    const { low, lift, span } = this.ground.measure;
    this.surface.visible = this.level !== null && this.mesh !== null;
    if (this.level !== null) this.surface.position.z = ((this.level - low) * lift) / span;
    this.ask();
  }

  setHeights(map: RawMap, exaggeration: number): void {
    const longer = Math.max(map.grid.width, map.grid.length);
    this.uniform("lift", exaggeration);
    this.ground.lay(map, exaggeration);
    const { low } = this.ground.measure;
    if (this.heightKey !== map.key) {
      this.heightKey = map.key;
      this.heights?.dispose();
      const values = map.values instanceof Float32Array ? map.values : Float32Array.from(map.values);
      // Gaps in the ground lie at its lowest height: a mesh needs some.
      const solid = values.map((v) => (Number.isNaN(v) ? low : v));
      this.heights = new DataTexture(solid, map.cols, map.rows, RedFormat, FloatType);
      const smooth = this.renderer.getContext().getExtension("OES_texture_float_linear") !== null;
      this.heights.minFilter = this.heights.magFilter = smooth ? LinearFilter : NearestFilter;
      this.heights.wrapS = this.heights.wrapT = ClampToEdgeWrapping;
      this.heights.needsUpdate = true;
      this.uniform("heights", this.heights);
      this.uniform("size", [map.cols, map.rows]);
      this.uniform("spacing", [map.grid.spacing_x, map.grid.spacing_y]);
      this.uniform("beyond", 1 - 2 * inset(map.grid));
      this.uniform("low", low);
      this.uniform("extent", [map.grid.width, map.grid.length]);
      this.uniform("span", longer);
      this.surface.scale.set(map.grid.width / longer, map.grid.length / longer, 1);
      this.build(map.grid.width / longer, map.grid.length / longer);
    }
    this.dots.lay(map, this.ground.measure);
    if (!this.chosen) this.showAll();
    this.flood();
  }

  /** Look from where all of the ground is seen, whatever its shape. */
  showAll(): void {
    const { box } = this.ground;
    if (!box) return;
    const { position, target } = framed(box, this.camera.fov, this.camera.aspect);
    this.camera.position.set(...position);
    this.controls.target.set(...target);
    this.controls.update();
    this.chosen = false;
    this.ask();
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
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    if (!this.chosen) this.showAll();
    this.ask();
  }

  /** Metres east and south at a point of the canvas (CSS pixels); null where there is no ground. */
  pick(x: number, y: number): { east: number; south: number } | null {
    const size = this.renderer.getSize(new Vector2());
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2((x / size.x) * 2 - 1, 1 - (y / size.y) * 2), this.camera);
    return this.ground.hit(ray.ray.origin, ray.ray.direction);
  }

  /** Where a place on the ground is seen (CSS pixels); null behind the camera. */
  spot(east: number, south: number): { x: number; y: number } | null {
    const at = this.ground.pointOf(east, south);
    const point = at && new Vector3(...at).project(this.camera);
    if (!point || point.z > 1) return null;
    const size = this.renderer.getSize(new Vector2());
    return { x: ((point.x + 1) / 2) * size.x, y: ((1 - point.y) / 2) * size.y };
  }

  /** With a tool in hand the left button is the tool's; the right one turns. */
  setToolInHand(on: boolean): void {
    this.controls.mouseButtons = {
      LEFT: on ? null : MOUSE.ROTATE,
      MIDDLE: MOUSE.DOLLY,
      RIGHT: on ? MOUSE.ROTATE : MOUSE.PAN,
    };
  }

  /** Scattered things as dots: rows of east, south, height, size, turn. */
  setDots(values: Float32Array | null, colour: string): void {
    this.dots.set(values, colour, this.ground.map, this.ground.measure);
    this.ask();
  }

  /** Look from where another relief looks from. */
  private follow({ position, target }: ReliefLook): void {
    this.camera.position.set(...position);
    this.controls.target.set(...target);
    this.camera.lookAt(this.controls.target);
    this.following = true;
    this.chosen = true;
    this.ask();
  }

  /** Pixels a metre at the middle of the view. */
  get pixelsPerMetre(): number {
    const size = this.renderer.getSize(new Vector2());
    const distance = this.camera.position.distanceTo(this.controls.target);
    return this.ground.map ? pixelsAt(distance, this.camera.fov, size.y, this.ground.measure.span) : 0;
  }

  /** Turn or approach without a mouse. */
  nudge(turn: number, tilt: number, nearer: number): void {
    this.chosen = true;
    const [eye, target] = [this.camera.position.toArray(), this.controls.target.toArray()];
    this.camera.position.set(...orbited(eye, target, { turn, tilt, nearer }, MOST_DISTANCE));
    this.controls.update();
    this.ask();
  }

  readonly ask = (): void => {
    if (this.frame) return;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      this.ground.keepAbove(this.camera.position, this.controls.target);
      // Who follows does not tell in turn: two would chase each other.
      if (!this.following) {
        const [p, t] = [this.camera.position, this.controls.target];
        reliefLink.tell(this, { position: [p.x, p.y, p.z], target: [t.x, t.y, t.z] });
      }
      this.following = false;
      if (this.mesh && this.colours) this.renderer.render(this.scene, this.camera);
      this.onFrame?.();
    });
  };

  dispose(): void {
    this.leave();
    cancelAnimationFrame(this.frame);
    this.controls.dispose();
    this.mesh?.geometry.dispose();
    this.material.dispose();
    this.surface.geometry.dispose();
    this.surface.material.dispose();
    this.dots.dispose();
    this.heights?.dispose();
    this.colours?.dispose();
    this.nothing.dispose();
    this.renderer.dispose();
  }

  /** Give the drawing context back; the canvas cannot be drawn on again. */
  letGo(): void {
    this.renderer.forceContextLoss();
  }
}
