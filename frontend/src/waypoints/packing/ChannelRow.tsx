import { named } from "../../api/mapNames";
import { Box, ButtonBase, Tooltip } from "@mui/material";
import FlipIcon from "@mui/icons-material/InvertColors";
import { useState, type DragEvent } from "react";
import { useReadings, useStats } from "../../document/queries";
import type { Channel, ChannelSource, Sheet } from "../../api/types";
import { NumberToken } from "../../kit/NumberToken";
import { SourcePicker } from "../../viewport/SourcePicker";
import { useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { MONO, roles } from "../../kit/theme";
import { MapThumb } from "../../viewport/MapThumb";
import { ReadingMapping } from "./ReadingMapping";
import { choicesOf, valueOf } from "./sources";
import { sourceTitle } from "../../document/sourceTitle";
import { DRAGGED, useSourceOf } from "./useSourceOf";

interface ChannelRowProps {
  sheet: Sheet;
  letter: Channel;
  onSet: (source: ChannelSource | null) => Promise<boolean>;
  /** Another channel, or a map, is dropped on this one. */
  onDropped: (what: string) => void;
}

/** One channel of a sheet: its picture, what it carries, how much of it is white. */
export function ChannelRow({ sheet, letter, onSet, onDropped }: ChannelRowProps) {
  const { document, bands } = useProject();
  const readings = useReadings();
  const show = useView((view) => view.show);
  const source = sheet[letter] ?? null;
  const stats = useStats(source ? named.channel(sheet.id, letter) : null);
  const make = useSourceOf();
  const [over, setOver] = useState(false);
  const name = `${letter.toUpperCase()} of ${sheet.name}`;
  const choose = async (value: string) => {
    const made = await make(value);
    if (made || value === "empty") await onSet(made);
  };
  const drag = {
    draggable: source !== null,
    onDragStart: (event: DragEvent) => {
      event.dataTransfer.setData(DRAGGED, named.channel(sheet.id, letter));
      event.dataTransfer.effectAllowed = "move";
    },
    onDragOver: (event: DragEvent) => {
      if (!event.dataTransfer.types.includes(DRAGGED)) return;
      event.preventDefault();
      setOver(true);
    },
    onDragLeave: () => setOver(false),
    onDrop: (event: DragEvent) => {
      event.preventDefault();
      setOver(false);
      onDropped(event.dataTransfer.getData(DRAGGED));
    },
  };
  return (
    <Box
      {...drag}
      aria-label={`Channel ${name}`}
      role="group"
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 1,
        py: 0.6,
        borderBottom: "1px dashed",
        borderColor: "divider",
        outline: over ? `2px dashed ${roles.gentian}` : "none",
        borderRadius: over ? 1 : 0,
        "&:last-of-type": { borderBottom: 0 },
      }}
    >
      <Tooltip title={`Look at ${letter.toUpperCase()} alone`}>
        <ButtonBase
          aria-label={`Look at ${name} alone`}
          onClick={() => show({ kind: "channel", sheet: sheet.id, channel: letter })}
          sx={{
            width: 26,
            height: 26,
            border: 1,
            borderColor: "text.primary",
            borderRadius: 1,
            fontWeight: 700,
            fontSize: 12.5,
            fontFamily: "inherit",
            flexShrink: 0,
          }}
        >
          {letter.toUpperCase()}
        </ButtonBase>
      </Tooltip>
      {source ? (
        <MapThumb subject={{ kind: "channel", sheet: sheet.id, channel: letter }} width={54} height={32} />
      ) : (
        <Box
          sx={{
            width: 54,
            height: 32,
            borderRadius: 1,
            bgcolor: roles.amberWash,
            border: `1px dashed ${roles.amber}`,
            flexShrink: 0,
          }}
        />
      )}
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <SourcePicker
          label={`What ${name} carries`}
          value={valueOf(source)}
          text={source ? sourceTitle(source, document, readings) : "empty: drop a map here"}
          choices={choicesOf(document, readings, bands)}
          onChange={(value) => void choose(value)}
        />
        {source?.kind === "constant" && (
          <NumberToken
            label={`Value of ${name}`}
            value={source.value * 100}
            unit="%"
            min={0}
            max={100}
            step={1}
            decimals={0}
            onCommit={(v) => onSet({ ...source, value: v / 100 })}
          />
        )}
        {source?.kind === "reading" && <ReadingMapping source={source} name={name} onSet={onSet} />}
      </Box>
      {source && (
        <Tooltip title={source.turned ? "Turned over: black and white are swapped" : "Turn over"}>
          <ButtonBase
            aria-label={`Turn ${name} over`}
            aria-pressed={source.turned}
            onClick={() => void onSet({ ...source, turned: !source.turned })}
            sx={{
              width: 26,
              height: 26,
              borderRadius: 1,
              color: source.turned ? roles.gentian : "text.secondary",
              bgcolor: source.turned ? roles.gentianWash : "transparent",
            }}
          >
            <FlipIcon sx={{ fontSize: 17 }} />
          </ButtonBase>
        </Tooltip>
      )}
      {stats.data && (
        <Box component="span" sx={{ fontFamily: MONO, fontSize: 11.5, color: "text.secondary", whiteSpace: "nowrap" }}>
          {((stats.data.mean / 255) * 100).toFixed(0)} %
        </Box>
      )}
    </Box>
  );
}
