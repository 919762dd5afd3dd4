import { expect, it } from "vitest";
import { testReadings, testState } from "../../testing/state";
import { choicesOf, LAYOUTS, LETTERS, plainSource, valueOf } from "./sources";

const { document } = testState();
const scatters = [{ id: "firs", name: "Firs" }] as unknown as NonNullable<typeof document.scatters>;
const choices = choicesOf({ ...document, scatters }, testReadings(), { scree: 3 });

it("a channel can carry every weight, mask, band, scattered thing, painted part and reading", () => {
  const values = choices.map((item) => item.value);
  expect(new Set(values).size).toBe(values.length);
  for (const value of ["weight:rock", "base", "rest", "step:rock", "mask:scree", "band:scree:2", "scatter:firs"])
    expect(values).toContain(value);
  expect(values.filter((value) => value.startsWith("band:"))).toHaveLength(3);
  expect(values.filter((value) => value.startsWith("painted:"))).toHaveLength(17);
  expect(choices.find((item) => item.value === "band:scree:2")?.label).toBe("Scree, band 3");
});

it("what is chosen is what the channel says it carries", () => {
  for (const { value } of choices) {
    const source = plainSource(value);
    if (value === "empty" || value.startsWith("reading:")) expect(source).toBeNull();
    else expect(valueOf(source)).toBe(value);
  }
  expect(valueOf(null)).toBe("empty");
  expect(plainSource("constant")).toEqual({ kind: "constant", value: 1, turned: false });
  const reading = { kind: "reading", reading: "slope", black: 0, white: 1, mapping: "own", turned: false } as const;
  expect(valueOf(reading)).toBe("reading:slope");
});

it("a sheet has the channels that its layout says, at two depths", () => {
  expect(Object.entries(LETTERS).map(([layout, letters]) => [layout, letters.join("")])).toEqual([
    ["rgba", "rgba"],
    ["rgb", "rgb"],
    ["grey_alpha", "ra"],
    ["grey", "r"],
  ]);
  expect(LAYOUTS.map((item) => item.value)).toEqual(
    [8, 16].flatMap((bits) => ["rgba", "rgb", "grey_alpha", "grey"].map((layout) => `${layout}-${bits}`)),
  );
});
