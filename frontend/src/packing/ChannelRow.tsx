import { Box, ButtonBase, Tooltip, Typography } from "@mui/material";
import { ask, client } from "../api/client";
import { useReadings, useStats } from "../api/queries";
import type { Channel, ChannelSource, Sheet } from "../api/types";
import { ChoiceToken } from "../parts/ChoiceToken";
import { NumberToken } from "../parts/NumberToken";
import { useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { MONO, roles } from "../theme";
import { MapThumb } from "../viewport/MapThumb";
import { choicesOf, valueOf } from "./sources";

interface ChannelRowProps {
  sheet: Sheet;
  letter: Channel;
  onSet: (source: ChannelSource | null) => Promise<boolean>;
}

/** One channel of a sheet: its picture, what it carries, how much of it is white. */
export function ChannelRow({ sheet, letter, onSet }: ChannelRowProps) {
  const { document } = useProject();
  const readings = useReadings();
  const show = useView((view) => view.show);
  const source = sheet[letter] ?? null;
  const stats = useStats(source ? `channel:${sheet.id}:${letter}` : null);
  const choose = useChoose(onSet);
  return (
    <Box
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 1,
        py: 0.6,
        borderBottom: "1px dashed",
        borderColor: "divider",
        "&:last-of-type": { borderBottom: 0 },
      }}
    >
      <Tooltip title={`Look at ${letter.toUpperCase()} alone`}>
        <ButtonBase
          aria-label={`Look at ${letter.toUpperCase()} of ${sheet.name} alone`}
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
        <ChoiceToken
          label={`What ${letter.toUpperCase()} of ${sheet.name} carries`}
          value={valueOf(source)}
          choices={choicesOf(document, readings)}
          onChange={(value) => void choose(value)}
        />
        {source?.kind === "reading" && <ReadingEnds source={source} onSet={onSet} />}
      </Box>
      {stats.data && (
        <Box component="span" sx={{ fontFamily: MONO, fontSize: 11.5, color: "text.secondary", whiteSpace: "nowrap" }}>
          {((stats.data.mean / 255) * 100).toFixed(0)} %
        </Box>
      )}
    </Box>
  );
}

type ReadingSource = Extract<ChannelSource, { kind: "reading" }>;

function ReadingEnds({ source, onSet }: { source: ReadingSource; onSet: (source: ChannelSource) => Promise<boolean> }) {
  const readings = useReadings();
  const reading = readings.find((item) => item.name === source.reading);
  const log = reading?.scale === "log";
  const end = (label: string, field: "black" | "white") => (
    <NumberToken
      label={label}
      value={source[field]}
      unit={reading?.unit ?? ""}
      min={log ? 0.000001 : -20000}
      max={log ? 1e12 : 20000}
      step={log ? Math.max(1, Math.round(source[field] / 10)) : 10 ** -Math.min(reading?.decimals ?? 1, 4)}
      decimals={Math.max(reading?.decimals ?? 2, 2)}
      onCommit={(v) => onSet({ ...source, [field]: v })}
    />
  );
  return (
    <Typography variant="caption" component="div" sx={{ lineHeight: 2 }}>
      black is {end("Black stands for", "black")}, white is {end("White stands for", "white")}
    </Typography>
  );
}

/** Puts one of the choices into a channel. */
function useChoose(onSet: ChannelRowProps["onSet"]) {
  const { id: project } = useProject();
  const tell = useDocument((store) => store.tell);
  /** A reading begins with black and white at its own ends on this ground. */
  const readingSource = async (name: string): Promise<ChannelSource | null> => {
    const found = await ask(
      client.GET("/api/projects/{project_id}/stats", {
        params: { path: { project_id: project }, query: { name: `reading:${name}` } },
      }),
    );
    const black = Number(found.low.toPrecision(6));
    const white = Number(found.high.toPrecision(6));
    if (white <= black) {
      tell(`${name} is ${black} everywhere on this ground: it has nothing to put into a channel.`);
      return null;
    }
    return { kind: "reading", reading: name, black, white };
  };
  return async (value: string) => {
    const [kind, name = "", part = "r"] = value.split(":");
    if (kind === "weight") await onSet({ kind: "weight", layer: name });
    else if (kind === "mask") await onSet({ kind: "mask", mask: name });
    else if (kind === "scatter") await onSet({ kind: "scatter", scatter: name });
    else if (kind === "painted")
      await onSet({ kind: "painted", map: name, part } as Extract<ChannelSource, { kind: "painted" }>);
    else if (kind === "base" || kind === "rest") await onSet({ kind });
    else if (kind === "reading") {
      const made = await readingSource(name);
      if (made) await onSet(made);
    } else await onSet(null);
  };
}
