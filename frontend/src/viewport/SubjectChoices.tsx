import { Segments } from "../parts/Segments";
import { useProject } from "../state/document";
import { useView } from "../state/view";

/** The ways in which the current subject can be looked at. */
export function SubjectChoices() {
  const { subject, show } = useView();
  const { in_place: prepared } = useProject();
  switch (subject.kind) {
    case "ground":
      return (
        <Segments
          label="Ground as"
          options={[
            { value: "heights", label: "Heights" },
            { value: "shade", label: "Shade" },
            ...(prepared ? [{ value: "wipe" as const, label: "Before | after" }] : []),
          ]}
          value={subject.style}
          onChange={(style) => show({ kind: "ground", style, steps: subject.steps ?? 0 })}
        />
      );
    case "reading":
    case "layers":
      return (
        <Segments
          label="Laid"
          options={[
            { value: "over", label: "Over shade" },
            { value: "alone", label: "Alone" },
          ]}
          value={subject.over ? "over" : "alone"}
          onChange={(value) => show({ ...subject, over: value === "over" })}
        />
      );
    case "mask":
      return (
        <Segments
          label="Mask as"
          options={[
            { value: "over", label: "Over" },
            { value: "alone", label: "Mask alone" },
            { value: "bands", label: "Bands" },
            { value: "wipe", label: "Before | after" },
          ]}
          value={subject.style}
          onChange={(style) => show({ ...subject, style })}
        />
      );
    case "band":
    case "final":
      return (
        <Segments
          label="Mask as"
          options={[
            { value: "this", label: subject.kind === "band" ? `Band ${subject.band + 1}` : "Difference" },
            { value: "over", label: "Over" },
            { value: "alone", label: "Mask alone" },
            { value: "bands", label: "Bands" },
          ]}
          value="this"
          onChange={(style) => {
            if (style !== "this") show({ kind: "mask", id: subject.mask, style, lines: null });
          }}
        />
      );
    case "together":
    case "scatter":
      return null;
    case "sheet":
      return (
        <Segments
          label="Channels"
          options={[
            { value: "each", label: "Each alone" },
            { value: "together", label: "Together" },
          ]}
          value={subject.style}
          onChange={(style) => show({ ...subject, style })}
        />
      );
    case "channel":
      return (
        <Segments
          label="Channels"
          options={[
            { value: "channel", label: subject.channel.toUpperCase() },
            { value: "each", label: "Each alone" },
            { value: "together", label: "Together" },
          ]}
          value="channel"
          onChange={(value) => {
            if (value !== "channel") show({ kind: "sheet", id: subject.sheet, style: value });
          }}
        />
      );
    case "fit":
      return (
        <Segments
          label="Compared"
          options={[
            { value: "rebuilt", label: "Rebuilt" },
            { value: "difference", label: "Difference" },
          ]}
          value={subject.style}
          onChange={(style) => show({ ...subject, style })}
        />
      );
  }
}
