type Point = [number, number, number];

const FROM: Point = unit([0, -1.15, 0.85]);
/** Parts of the view that the ground may fill, so that nothing touches its border. */
const FILLED = 0.94;

function unit([x, y, z]: Point): Point {
  const size = Math.hypot(x, y, z);
  return [x / size, y / size, z / size];
}

const dot = (a: Point, b: Point) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** How far a corner lies to the right, up and away, seen along a line of sight. */
function seen(p: Point, target: Point): Point {
  const forward: Point = [-FROM[0], -FROM[1], -FROM[2]];
  const rise: Point = [FROM[0] * FROM[2] * -1, FROM[1] * FROM[2] * -1, 1 - FROM[2] * FROM[2]];
  const up = unit(rise);
  const right: Point = [
    forward[1] * up[2] - forward[2] * up[1],
    forward[2] * up[0] - forward[0] * up[2],
    forward[0] * up[1] - forward[1] * up[0],
  ];
  const from: Point = [p[0] - target[0], p[1] - target[1], p[2] - target[2]];
  return [dot(from, right), dot(from, up), dot(from, forward)];
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
  const half = Math.tan(((fov / 2) * Math.PI) / 180) * FILLED;
  const target: Point = [0, 0, height / 2];
  let distance = 0;
  // What is nearer looks larger: the middle of what is seen is found in a few steps.
  for (let round = 0; round < 6; round++) {
    const places = corners.map((corner) => seen(corner, target));
    distance = Math.max(...places.map(([x, y, z]) => Math.max(Math.abs(x) / (half * aspect), Math.abs(y) / half) - z));
    const heights = places.map(([, y, z]) => y / (distance + z));
    const off = ((Math.max(...heights) + Math.min(...heights)) / 2) * distance;
    // Up in the view, on the ground: the target stays at its height and moves north or south.
    target[1] += off / FROM[2];
  }
  return {
    position: [target[0] + FROM[0] * distance, target[1] + FROM[1] * distance, target[2] + FROM[2] * distance],
    target,
  };
}
