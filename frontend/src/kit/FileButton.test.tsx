import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { FileButton } from "./FileButton";

afterEach(cleanup);

function button(multiple = false) {
  const onFiles = vi.fn<(files: File[]) => void>();
  render(
    <FileButton id="file" accept=".png" multiple={multiple} onFiles={onFiles}>
      Choose…
    </FileButton>,
  );
  return { onFiles, field: screen.getByTestId<HTMLInputElement>("file") };
}

describe("a button that asks for files", () => {
  const file = new File(["a"], "a.png");

  it("gives all that were chosen, as often as they are", () => {
    const { onFiles, field } = button(true);
    expect(field.multiple).toBe(true);
    expect(field.accept).toBe(".png");
    for (let i = 0; i < 2; i++) fireEvent.change(field, { target: { files: [file, file] } });
    expect(onFiles.mock.calls.map(([files]) => files.length)).toEqual([2, 2]);
    expect(field.value).toBe("");
  });

  it("says nothing when nothing was chosen", () => {
    const { onFiles, field } = button();
    fireEvent.change(field, { target: { files: [] } });
    expect(onFiles).not.toHaveBeenCalled();
  });
});
