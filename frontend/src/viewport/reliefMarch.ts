const FAR = 12;
const STEP = 0.004;

/** Where a ray meets the ground, as a part of its way: it is walked along until it is under the ground, then the step is
 * halved. `above`: how high it is over the ground, null beside it; null where it meets none. */
export function marched(above: (t: number) => number | null): number | null {
  let before: number | null = null;
  for (let t = 0; t < FAR; t += STEP) {
    const over = above(t);
    if (over !== null && over <= 0 && before !== null) {
      let [a, b] = [before, t];
      for (let i = 0; i < 20; i++) {
        const middle = (a + b) / 2;
        if ((above(middle) ?? 1) > 0) a = middle;
        else b = middle;
      }
      return b;
    }
    before = over === null ? null : t;
  }
  return null;
}
