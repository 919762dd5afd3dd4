import { useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../api/client";

type Formats = Schemas["FormatsOut"];
type Use = Formats["formats"][number]["uses"][number];
/** What files are brought in for. */
export type FileUse = Use | "project" | "kit" | "target" | "lines";

const NONE: Formats = { formats: [], mask_forms: [], documents: {} };

/** The formats there are, as the server has them. Until they have come, nothing is kept from being chosen. */
export function useFormats(): Formats {
  return (
    useQuery({ queryKey: ["formats"], queryFn: () => ask(client.GET("/api/formats")), staleTime: Infinity }).data ??
    NONE
  );
}

/** Endings of files for something, as a file field takes them. */
export function useEndings(what: FileUse | undefined): string[] {
  const { formats, documents } = useFormats();
  if (what === undefined) return [];
  return documents[what] ?? formats.flatMap(({ endings, uses }) => (uses.some((use) => use === what) ? endings : []));
}

/** What files can be brought in for something, in words: *PNG, JPEG or TIFF*. */
export function titlesFor({ formats }: Formats, use: Use): string {
  const titles = formats.filter((one) => one.uses.includes(use) && (one.exact || use !== "heightmap"));
  const named = titles.map(({ title }) => title);
  if (named.length === 0) return "any common format";
  return named.length > 1 ? `${named.slice(0, -1).join(", ")} or ${named.at(-1)}` : named.join("");
}

export function titleOf({ formats }: Formats, id: string): string {
  return formats.find((one) => one.id === id)?.title ?? id;
}
