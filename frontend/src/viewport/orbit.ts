type Point = readonly [number, number, number];

const LEAST_DISTANCE = 0.005;
/** Radians above the horizon. */
const [LOWEST, HIGHEST] = [0.05, 1.5];

/** The direction that light comes from: degrees clockwise from north, degrees above the horizon. */
export function sunFrom(azimuth: number, altitude: number): [number, number, number] {
  const [a, h] = [(azimuth * Math.PI) / 180, (altitude * Math.PI) / 180];
  return [Math.sin(a) * Math.cos(h), Math.cos(a) * Math.cos(h), Math.sin(h)];
}

/** Where an eye is after it was turned and tilted about a target (radians) and brought nearer by a part of its way. */
export function orbited(
  eye: Point,
  target: Point,
  by: { turn: number; tilt: number; nearer: number },
  most: number,
): [number, number, number] {
  const [x, y, z] = [eye[0] - target[0], eye[1] - target[1], eye[2] - target[2]];
  const angle = Math.atan2(y, x) + by.turn;
  const distance = Math.max(LEAST_DISTANCE, Math.min(most, Math.hypot(x, y, z) * (1 - by.nearer)));
  const rise = Math.max(LOWEST, Math.min(HIGHEST, Math.atan2(z, Math.hypot(x, y)) + by.tilt));
  return [
    target[0] + Math.cos(angle) * Math.cos(rise) * distance,
    target[1] + Math.sin(angle) * Math.cos(rise) * distance,
    target[2] + Math.sin(rise) * distance,
  ];
}

/** Pixels a metre at a target, as far from the eye as told, for a view of so many degrees and pixels from top to bottom;
 * `span`: metres that are as long as 1. */
export function pixelsAt(distance: number, fov: number, pixels: number, span: number): number {
  return pixels / (2 * Math.tan(((fov / 2) * Math.PI) / 180) * distance * span);
}
