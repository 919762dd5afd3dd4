import type { ChannelSource, ProjectDocument, Reading } from "../api/types";

/** What a channel carries, in a few words. */
export function sourceTitle(source: ChannelSource, document: ProjectDocument, readings: Reading[]): string {
  switch (source.kind) {
    case "weight": {
      const layer = document.layers.find((item) => item.id === source.layer);
      return `${layer?.name ?? "?"} weight${layer?.muted || !layer?.mask ? " (switched off)" : ""}`;
    }
    case "base":
      return `${document.base.name} base weight`;
    case "rest":
      return "Rest of this sheet";
    case "mask":
      return `${document.masks.find((item) => item.id === source.mask)?.name ?? "?"} mask`;
    case "scatter":
      return `${document.scatters?.find((item) => item.id === source.scatter)?.name ?? "?"} density`;
    case "reading":
      return readings.find((item) => item.name === source.reading)?.title ?? source.reading;
  }
}
