type Point = [number, number, number];

/** Degrees above the horizon that it is looked from: as high as fills the view without going farther away. */
const HIGHEST = 52;
const LOWEST = 30;
/** How much farther away is worth a higher view. */
const WORTH = 1.02;
/** Parts of the view's half that the ground may fill to the sides, upwards, and downwards, where legend and bar lie. */
const FILLED = { side: 0.95, up: 0.92, down: 0.8 };

/** How far a corner lies to the right, up and away, seen along a line of sight. */
function seen(p: Point, target: Point, height: number): Point {
  const [rise, flat] = [Math.sin(height), Math.cos(height)];
  const [y, z] = [p[1] - target[1], p[2] - target[2]];
  return [p[0] - target[0], y * rise + z * flat, y * flat - z * rise];
}

/** Where to look from, from the south and above, so that all of a ground is in view, whatever its shape and the view's.
 *
 * `width`, `length`, `height`: of the box around it, whose middle is at 0, 0 and whose floor is at 0; `fov`: of the
 * view from bottom to top, in degrees; `aspect`: its width over its height. */
export function framed(
  { width, length, height }: { width: number; length: number; height: number },
  fov: number,
  aspect: number,
): { position: Point; target: Point } {
  const corners = [-0.5, 0.5].flatMap((x) =>
    [-0.5, 0.5].flatMap((y) => [0, height].map((z): Point => [x * width, y * length, z])),
  );
  const half = Math.tan(((fov / 2) * Math.PI) / 180);
  const tries = Array.from({ length: HIGHEST - LOWEST + 1 }, (_, i) =>
    fitted(corners, ((HIGHEST - i) * Math.PI) / 180, height / 2, half, aspect),
  );
  const nearest = Math.min(...tries.map((one) => one.distance));
  const { eye, target, distance } = tries.find((one) => one.distance <= nearest * WORTH) ?? (tries[0] as Fitted);
  return {
    position: [target[0], target[1] - Math.cos(eye) * distance, target[2] + Math.sin(eye) * distance],
    target,
  };
}

interface Fitted {
  eye: number;
  target: Point;
  distance: number;
}

/** How far away all corners are in view from a height of the eye (radians), and what is then looked at. */
function fitted(corners: Point[], eye: number, middle: number, half: number, aspect: number): Fitted {
  const target: Point = [0, 0, middle];
  let distance = 0;
  // What is nearer looks larger: the middle of what is seen is found in a few steps.
  for (let round = 0; round < 6; round++) {
    const places = corners.map((corner) => seen(corner, target, eye));
    const wide = half * aspect * FILLED.side;
    const high = (half * (FILLED.up + FILLED.down)) / 2;
    const middle = (half * (FILLED.up - FILLED.down)) / 2;
    distance = Math.max(
      ...places.map(([x, y, z]) => Math.max(Math.abs(x) / wide, y / (high + middle), -y / (high - middle)) - z),
    );
    const heights = places.map(([, y, z]) => y / (distance + z));
    const off = ((Math.max(...heights) + Math.min(...heights)) / 2 - middle) * distance;
    // Up in the view, on the ground: the target stays at its height and moves north or south.
    target[1] += off / Math.sin(eye);
  }
  return { eye, target, distance };
}
