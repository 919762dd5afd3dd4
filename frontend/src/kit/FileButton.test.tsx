import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { FileUse } from "../document/formats";
import { FileButton } from "./FileButton";

afterEach(cleanup);

function button(multiple = false, what: FileUse = "picture") {
  const onFiles = vi.fn<(files: File[]) => void>();
  const cache = new QueryClient();
  cache.setQueryData(["formats"], {
    formats: [
      { id: "png", title: "PNG", endings: [".png"], uses: ["picture", "texture"], exact: true },
      { id: "raw", title: "raw", endings: [".r16"], uses: ["heightmap"], exact: true },
      { id: "tiff", title: "TIFF", endings: [".tif", ".tiff"], uses: ["picture"], exact: true },
    ],
    documents: { kit: [".json"] },
  });
  render(
    <QueryClientProvider client={cache}>
      <FileButton id="file" what={what} multiple={multiple} onFiles={onFiles}>
        Choose…
      </FileButton>
    </QueryClientProvider>,
  );
  return { onFiles, field: screen.getByTestId<HTMLInputElement>("file") };
}

describe("a button that asks for files", () => {
  const file = new File(["a"], "a.png");

  it("gives all that were chosen, as often as they are", () => {
    const { onFiles, field } = button(true);
    expect(field.multiple).toBe(true);
    expect(field.accept).toBe(".png,.tif,.tiff");
    for (let i = 0; i < 2; i++) fireEvent.change(field, { target: { files: [file, file] } });
    expect(onFiles.mock.calls.map(([files]) => files.length)).toEqual([2, 2]);
    expect(field.value).toBe("");
  });

  it("says nothing when nothing was chosen", () => {
    const { onFiles, field } = button(false, "kit");
    expect(field.accept).toBe(".json");
    fireEvent.change(field, { target: { files: [] } });
    expect(onFiles).not.toHaveBeenCalled();
  });
});
