import { ShaderMaterial, type DataArrayTexture } from "three";
import { MOST_NEAR } from "./nearGround";

const VERTEX = `
uniform sampler2D heights; uniform vec2 size; uniform float low; uniform float lift; uniform float span;
uniform float beyond;
varying vec2 at;
void main() {
  at = vec2(uv.x, 1.0 - uv.y);
  vec2 texel = (at * (size - beyond) + 0.5 * beyond) / size;
  float z = (texture2D(heights, texel).r - low) * lift / span;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position.xy, z, 1.0);
}`;

const FRAGMENT = `
precision highp sampler2DArray;
uniform sampler2D heights; uniform sampler2D colours; uniform vec2 size; uniform vec2 spacing; uniform float lift;
uniform float lit; uniform vec3 sun; uniform vec2 extent; uniform float span; uniform float beyond;
uniform sampler2DArray albedo; uniform sampler2DArray bumps; uniform sampler2DArray weights;
uniform int layers; uniform float sizes[${MOST_NEAR}]; uniform vec2 turns[${MOST_NEAR}]; uniform vec3 tints[${MOST_NEAR}];
uniform float painted;
varying vec2 at;
float lightOf(vec3 n, vec3 from) { return 0.45 + 0.65 * max(dot(n, from), 0.0); }
vec3 linear(vec3 c) { return pow(c, vec3(2.2)); }
vec3 coded(vec3 c) { return pow(c, vec3(1.0 / 2.2)); }
void main() {
  vec2 texel = (at * (size - beyond) + 0.5 * beyond) / size;
  vec3 colour = texture2D(colours, texel).rgb;
  vec2 d = 1.0 / size;
  float e = texture2D(heights, texel + vec2(d.x, 0.0)).r - texture2D(heights, texel - vec2(d.x, 0.0)).r;
  float s = texture2D(heights, texel + vec2(0.0, d.y)).r - texture2D(heights, texel - vec2(0.0, d.y)).r;
  vec2 rise = vec2(e * lift / (2.0 * spacing.x), -s * lift / (2.0 * spacing.y));
  vec3 n = normalize(vec3(-rise, 1.0));
  float light = lightOf(n, sun);
  // Colours that already hold the usual light from the north-west are lit anew.
  float held = lightOf(n, vec3(-0.5, 0.5, 0.7071));
  vec3 far = mix(colour * light / held, colour * light, lit);
  vec2 metres = at * extent;
  // Textures show while a sample of the colour map is several pixels wide, and fade out before they would repeat visibly.
  float pixel = max(length(dFdx(metres)), length(dFdy(metres)));
  float close = layers > 0 ? 1.0 - smoothstep(0.25, 1.0, pixel) : 0.0;
  if (close > 0.0) {
    // Albedo is tagged sRGB: what is read of it is linear already.
    vec3 mixed = vec3(0.0); vec3 mean = vec3(0.0); vec2 bump = vec2(0.0);
    for (int i = 0; i < ${MOST_NEAR}; i++) {
      if (i >= layers) break;
      float w = texture(weights, vec3(texel, float(i / 4)))[i - (i / 4) * 4];
      if (w < 0.004) continue;
      vec2 t = turns[i];
      vec2 place = vec2(metres.x * t.x + metres.y * t.y, metres.y * t.x - metres.x * t.y) / sizes[i];
      mixed += w * tints[i] * texture(albedo, vec3(place, float(i))).rgb;
      mean += w * tints[i] * textureLod(albedo, vec3(place, float(i)), 20.0).rgb;
      vec3 b = texture(bumps, vec3(place, float(i))).rgb * 2.0 - 1.0;
      vec2 r = -b.xy / max(b.z, 0.1);
      bump += w * vec2(r.x * t.x + r.y * t.y, r.y * t.x - r.x * t.y);
    }
    // The colour map's own variation stays over the textures: they bring detail, it brings the place.
    vec3 base = linear(lit > 0.5 ? colour : colour / held);
    vec3 over = mix(mixed, base * mixed / max(mean, vec3(0.01)), painted);
    vec3 near = normalize(vec3(-(rise + bump), 1.0));
    far = mix(far, coded(over) * lightOf(near, sun), close);
  }
  gl_FragColor = vec4(far, 1.0);
}`;

/** How the ground is lifted, coloured and lit; `nothing` stands where there are no textures for close ground. */
export function groundMaterial(nothing: DataArrayTexture): ShaderMaterial {
  return new ShaderMaterial({
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
    uniforms: {
      heights: { value: null },
      colours: { value: null },
      size: { value: [2, 2] },
      spacing: { value: [1, 1] },
      beyond: { value: 1 },
      low: { value: 0 },
      lift: { value: 1 },
      span: { value: 1 },
      lit: { value: 0 },
      sun: { value: [-0.5, 0.5, 0.7071] },
      extent: { value: [1, 1] },
      albedo: { value: nothing },
      bumps: { value: nothing },
      weights: { value: nothing },
      layers: { value: 0 },
      sizes: { value: new Float32Array(MOST_NEAR).fill(1) },
      turns: { value: new Float32Array(MOST_NEAR * 2) },
      tints: { value: new Float32Array(MOST_NEAR * 3) },
      painted: { value: 0 },
    },
  });
}
