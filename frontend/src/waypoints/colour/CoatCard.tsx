import { Alert, Box, IconButton, Tooltip, Typography } from "@mui/material";
import VisibilityIcon from "@mui/icons-material/VisibilityOutlined";
import VisibilityOffIcon from "@mui/icons-material/VisibilityOffOutlined";
import { useState } from "react";
import { usePainting } from "../../document/queries";
import type { Coat } from "../../api/types";
import type { Dragged } from "../../kit/useDragOrder";
import { useDocument } from "../../document/document";
import { roles } from "../../kit/theme";
import { MapThumb } from "../../viewport/MapThumb";
import { CoatMenu } from "./CoatMenu";
import { CoatSentence } from "./CoatSentence";
import { EnlargedBeside } from "./EnlargedBeside";
import { RampEditor } from "./RampEditor";
import { useCoatTell, withFields } from "./useCoatEdit";

interface CoatCardProps {
  coat: Coat;
  /** From the bottom. */
  index: number;
  count: number;
  chosen: boolean;
  onChoose: () => void;
  drag: Dragged;
}

/** One coat: where it lies, as a picture; what it does, as a sentence. */
export function CoatCard(props: CoatCardProps) {
  const { coat, index, count, chosen, onChoose, drag } = props;
  const edit = useDocument((store) => store.edit);
  const painting = usePainting();
  const tell = useCoatTell(coat);
  // While a stop of a ramp moves, the bar moves with it.
  const [moving, setMoving] = useState<Coat | null>(null);
  const kind = painting?.coats.find((item) => item.kind === coat.kind);
  const trouble = painting?.troubles.find((item) => item.id === coat.id);
  const title = kind?.title ?? coat.kind;
  const limited = coat.within !== null || ["soil", "bleach"].includes(coat.kind);
  return (
    <Box
      component="li"
      aria-label={`Coat ${index + 1}, ${title}`}
      onClick={onChoose}
      onFocus={(event) => event.target.matches(":focus-visible") && onChoose()}
      onDragOver={drag.onDragOver}
      onDrop={drag.onDrop}
      onKeyDown={(event) => {
        if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
        event.preventDefault();
        const to = index + (event.key === "ArrowUp" ? 1 : -1);
        if (to >= 0 && to < count) void edit([{ op: "move_coat", coat: coat.id, to }]);
      }}
      sx={{
        listStyle: "none",
        border: chosen ? `2px solid ${roles.gentian}` : `1px solid ${roles.rule}`,
        borderTopWidth: drag.over ? 4 : undefined,
        borderRadius: 1.3,
        p: chosen ? "8px 5px 8px 8px" : "9px 6px 9px 9px",
        mb: 1,
        opacity: coat.muted ? 0.55 : 1,
      }}
    >
      <Box {...drag.grip} sx={{ display: "flex", alignItems: "flex-start", gap: 1, cursor: "grab" }}>
        <Tooltip title="Drag to another place, or Alt with an arrow key">
          <Box aria-hidden sx={{ mt: 0.3 }}>
            <MapThumb
              subject={
                limited
                  ? { kind: "coat", id: coat.id }
                  : { kind: "colour", map: "colour", style: "after", coats: index + 1 }
              }
              width={50}
              height={34}
              lazy
            />
          </Box>
        </Tooltip>
        <Box sx={{ flex: 1, lineHeight: 1.95, fontSize: 13.5, minWidth: 0 }}>
          <CoatSentence coat={moving ?? coat} chosen={chosen} tell={tell} />
        </Box>
        <Box sx={{ display: "flex", flexShrink: 0 }} onClick={(event) => event.stopPropagation()}>
          <Tooltip title={coat.muted ? "Muted: lays nothing. Click to use it again." : "Mute this coat"}>
            <IconButton
              size="small"
              aria-label={coat.muted ? `Unmute ${title}` : `Mute ${title}`}
              aria-pressed={coat.muted ?? false}
              onClick={() => void edit([{ op: "set_coat", coat: withFields(coat, { muted: !coat.muted }) }])}
            >
              {coat.muted ? <VisibilityOffIcon sx={{ fontSize: 17 }} /> : <VisibilityIcon sx={{ fontSize: 17 }} />}
            </IconButton>
          </Tooltip>
          <CoatMenu coat={coat} index={index} title={title} />
        </Box>
      </Box>
      {coat.note && (
        <Typography variant="caption" color="textSecondary" sx={{ display: "block", fontStyle: "italic" }}>
          {coat.note}
        </Typography>
      )}
      {chosen && coat.kind === "ramp" && (
        <RampEditor
          coat={coat}
          onPreview={(stops) => {
            const next = stops && withFields(coat, { stops });
            setMoving(next);
            tell.preview(next);
          }}
          onCommit={(stops, key) =>
            tell.commit(withFields(coat, { stops }), key, "stops").finally(() => setMoving(null))
          }
        />
      )}
      {chosen && coat.kind === "image" && !trouble && <EnlargedBeside coat={coat} />}
      {trouble && (
        <Alert severity="warning" sx={{ mt: 0.7, py: 0 }}>
          {trouble.text}
        </Alert>
      )}
    </Box>
  );
}
