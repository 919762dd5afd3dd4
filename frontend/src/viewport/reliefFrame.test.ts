import { describe, expect, it } from "vitest";
import { PerspectiveCamera, Vector3 } from "three";
import { framed } from "./reliefFrame";

describe("the frame of a relief", () => {
  it.each([
    [1, 1, 0.2, 1.2],
    [1, 0.15, 0.4, 1],
    [0.15, 1, 0.05, 2.4],
    [1, 1, 0.01, 0.4],
  ])(
    "holds all corners of a ground of %f by %f, %f high, in a view %f times as wide as high",
    (width, length, height, aspect) => {
      const { position, target } = framed({ width, length, height }, 38, aspect);
      const camera = new PerspectiveCamera(38, aspect, 0.001, 50);
      camera.up.set(0, 0, 1);
      camera.position.set(...position);
      camera.lookAt(...target);
      camera.updateMatrixWorld();
      const corners = [-0.5, 0.5].flatMap((x) =>
        [-0.5, 0.5].flatMap((y) => [0, height].map((z) => [x * width, y * length, z] as const)),
      );
      const seen = corners.map((corner) => new Vector3(...corner).project(camera));
      const most = Math.max(...seen.map((p) => Math.max(Math.abs(p.x), Math.abs(p.y))));
      expect(most).toBeLessThan(1);
      // And no smaller than it must be.
      expect(most).toBeGreaterThan(0.75);
      const heights = seen.map((p) => p.y);
      // Lower down lie the legend and the scale bar.
      expect(Math.min(...heights)).toBeGreaterThan(-0.83);
    },
  );

  it("stands south of it, as high as fills the view", () => {
    const { position, target } = framed({ width: 1, length: 1, height: 0.2 }, 38, 1.2);
    expect([...position, ...target].map((v) => Number(v.toFixed(3)) + 0)).toEqual([0, -1.098, 1.349, 0, -0.122, 0.1]);
  });
});
