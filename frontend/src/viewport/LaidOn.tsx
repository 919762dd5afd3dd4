import { Box } from "@mui/material";
import { ChoiceToken } from "../kit/ChoiceToken";
import { useProject } from "../document/document";
import { useViewParts } from "./view";
import { innerRing } from "../kit/theme";
import { laidOver } from "./subjects/register";
import { useLook } from "./useLook";

/** What is under what is looked at: hill shade, the layers in their colours, or a picture in true colour. */
export function LaidOn() {
  const { subject, show, set } = useViewParts("subject", "show", "set");
  const { readings } = useProject();
  const { backdrop } = useLook();
  const pictures = readings.filter((item) => item.kind === "picture");
  const mask = subject.kind === "mask" && (subject.style === "over" || subject.style === "wipe") ? subject : null;
  if (!mask && (pictures.length === 0 || !laidOver(subject))) return null;
  return (
    <Box
      sx={{
        flexShrink: 0,
        maxWidth: 140,
        whiteSpace: "nowrap",
        overflow: "hidden",
        borderRadius: 1,
        // It is cut off at its border: the ring lies inside.
        "& button.Mui-focusVisible, & button:focus-visible": { ...innerRing, boxShadow: "none" },
      }}
    >
      <ChoiceToken
        label="Laid over"
        text={`over ${mask?.base === "colour" ? "layers" : (pictures.find((item) => item.name === backdrop)?.title ?? "shade")}`}
        value={mask?.base === "colour" ? "colour" : (backdrop ?? "shade")}
        choices={[
          { value: "shade", label: "shade" },
          ...(mask ? [{ value: "colour", label: "layers" }] : []),
          ...pictures.map((item) => ({ value: item.name, label: item.title, group: "Pictures" })),
        ]}
        onChange={(value) => {
          if (mask) show({ ...mask, base: value === "colour" ? "colour" : "shade" });
          if (value !== "colour") set({ backdrop: value === "shade" ? null : value });
        }}
      />
    </Box>
  );
}
