import { Box, Button, Typography } from "@mui/material";
import { useRef, useState } from "react";
import { ask, client } from "../../api/client";
import { usePainting, useReadings } from "../../document/queries";
import type { Coat } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { ColourToken } from "../../kit/ColourToken";
import { LongAskShown, useLongAsk } from "../../kit/LongAsk";
import { NumberToken } from "../../kit/NumberToken";
import { useProject } from "../../document/document";
import { type Place, useToolsParts } from "../../viewport/tools";
import { roles } from "../../kit/theme";
import { trim } from "../../kit/numbers";

type RampCoat = Extract<Coat, { kind: "ramp" }>;
type Stop = RampCoat["stops"][number];

export function cssStops(stops: Stop[]): string {
  return `linear-gradient(to right, ${stops.map((stop) => `${stop.colour} ${(stop.at * 100).toFixed(1)}%`).join(", ")})`;
}

interface RampEditorProps {
  coat: RampCoat;
  onPreview: (stops: Stop[] | null) => void;
  onCommit: (stops: Stop[], keyStep: boolean) => Promise<boolean>;
}

const MOST = 24;

/** The colours of a ramp: stops that are dragged along it, added by a click on it, taken from a picture. */
export function RampEditor({ coat, onPreview, onCommit }: RampEditorProps) {
  const bar = useRef<HTMLDivElement>(null);
  const [live, setLive] = useState<Stop[] | null>(null);
  const [chosen, setChosen] = useState(0);
  const stops = live ?? coat.stops;
  const stop = stops[Math.min(chosen, stops.length - 1)];
  const dragging = useRef<number | null>(null);
  const at = (event: React.PointerEvent) => {
    const box = bar.current?.getBoundingClientRect();
    return box ? Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1) : 0;
  };
  const moved = (index: number, to: number) =>
    stops.map((item, i) =>
      i === index ? { ...item, at: held(to, stops[i - 1]?.at ?? 0, stops[i + 1]?.at ?? 1) } : item,
    );
  const save = (next: Stop[], key = false) => {
    setLive(next);
    return onCommit(next, key).finally(() => setLive(null));
  };
  const add = (place: number) => {
    if (stops.length >= MOST) return;
    const after = stops.findIndex((item) => item.at > place);
    const index = after < 0 ? stops.length : after;
    const like = stops[Math.max(index - 1, 0)]?.colour ?? "#808080";
    setChosen(index);
    void save([...stops.slice(0, index), { at: round(place), colour: like }, ...stops.slice(index)]);
  };
  return (
    <Box sx={{ mt: 0.8 }} onClick={(event) => event.stopPropagation()}>
      <Box
        ref={bar}
        data-testid="ramp"
        onDoubleClick={(event) => add(at(event as unknown as React.PointerEvent))}
        sx={{ position: "relative", height: 22, borderRadius: 1, background: cssStops(stops), touchAction: "none" }}
      >
        {stops.map((item, i) => (
          <Box
            key={i}
            role="slider"
            tabIndex={0}
            aria-label={`Stop ${i + 1}`}
            aria-valuenow={Math.round(item.at * 100)}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuetext={`${Math.round(item.at * 100)} %, ${item.colour}`}
            onFocus={() => setChosen(i)}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              dragging.current = i;
              setChosen(i);
            }}
            onPointerMove={(event) => {
              if (dragging.current !== i) return;
              const next = moved(i, at(event));
              setLive(next);
              onPreview(next);
            }}
            onPointerUp={() => {
              if (dragging.current === i && live) void save(live);
              dragging.current = null;
            }}
            onPointerCancel={() => {
              dragging.current = null;
              setLive(null);
              onPreview(null);
            }}
            onKeyDown={(event) => {
              const step = { ArrowLeft: -0.01, ArrowRight: 0.01 }[event.key];
              if (step) void save(moved(i, item.at + step), true);
              else if (event.key === "Delete" && stops.length > 2) void save(stops.filter((_, k) => k !== i));
              else if (event.key === "Escape" && live) {
                dragging.current = null;
                setLive(null);
                onPreview(null);
              } else return;
              event.preventDefault();
              event.stopPropagation();
            }}
            sx={{
              position: "absolute",
              left: `calc(${item.at * 100}% - 12px)`,
              top: -2,
              width: 24,
              height: 26,
              cursor: "ew-resize",
              display: "grid",
              placeItems: "center",
              "&::after": {
                content: '""',
                width: 9,
                height: 26,
                borderRadius: 0.8,
                border: `2px solid ${i === chosen ? roles.gentian : roles.ink}`,
                bgcolor: item.colour,
              },
              "&:focus-visible": { outline: `2px solid ${roles.gentian}` },
            }}
          />
        ))}
      </Box>
      <Ends coat={coat} />
      {stop && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 0.8, flexWrap: "wrap", fontSize: 13, mt: 0.5 }}>
          <ColourToken
            label={`Colour of stop ${chosen + 1}`}
            value={stop.colour}
            onCommit={(colour) => void save(stops.map((item, i) => (i === chosen ? { ...item, colour } : item)))}
          />
          at{" "}
          <NumberToken
            label={`Place of stop ${chosen + 1}`}
            value={Number((stop.at * 100).toFixed(1))}
            unit="%"
            min={0}
            max={100}
            step={1}
            decimals={1}
            onPreview={(v) => onPreview(v === null ? null : moved(chosen, v / 100))}
            onCommit={(v, key) => save(moved(chosen, v / 100), key)}
          />
          <Button
            size="small"
            color="inherit"
            disabled={stops.length >= MOST}
            onClick={() => add((stop.at + (stops[chosen + 1]?.at ?? stop.at)) / 2)}
          >
            Add
          </Button>
          <Button
            size="small"
            color="inherit"
            disabled={stops.length <= 2}
            onClick={() => {
              setChosen(0);
              void save(stops.filter((_, i) => i !== chosen));
            }}
          >
            Take away
          </Button>
        </Box>
      )}
      <FromPicture onStops={(next) => save(next)} />
    </Box>
  );
}

function held(value: number, low: number, high: number): number {
  return round(Math.min(Math.max(value, low), high));
}

function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}

/** What the ends of the ramp stand for. */
function Ends({ coat }: { coat: RampCoat }) {
  const readings = useReadings();
  const { along } = coat;
  if (along.kind !== "reading") return null;
  const reading = readings.find((item) => item.name === along.reading);
  const decimals = Math.min(reading?.decimals ?? 0, 3);
  const told = (value: number) => `${trim(value, decimals)} ${reading?.unit ?? ""}`.trim();
  return (
    <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 11.5, color: "text.secondary", mt: 0.4 }}>
      <span>{told(along.black)}</span>
      <span>double click adds a colour</span>
      <span>{told(along.white)}</span>
    </Box>
  );
}

/** Stops taken from a picture (or from the colour map), along a line or by its main colours. */
function FromPicture({ onStops }: { onStops: (stops: Stop[]) => Promise<boolean> }) {
  const { id } = useProject();
  const painting = usePainting();
  const { tool, take } = useToolsParts("tool", "take");
  const long = useLongAsk();
  const [picture, setPicture] = useState("");
  const pictures = painting?.pictures ?? [];
  const drawing = tool?.kind === "stretch";
  const get = async (line: [Place, Place] | null) => {
    const found = await long.run((signal) =>
      ask(
        client.POST("/api/projects/{project_id}/stops", {
          params: { path: { project_id: id } },
          body: {
            picture: picture || null,
            line: line && line.map((place) => [place.east, place.south]),
            count: 5,
          },
          signal,
        }),
      ),
    );
    if (found) await onStops(found);
  };
  return (
    <Typography variant="caption" component="div" color="textSecondary" sx={{ mt: 0.5, lineHeight: 2 }}>
      Colours from{" "}
      <ChoiceToken
        label="Picture for the ramp"
        value={picture}
        choices={[{ value: "", label: "the colour map" }, ...pictures]}
        onChange={setPicture}
      />
      :{" "}
      <Button
        size="small"
        color={drawing ? "secondary" : "inherit"}
        aria-pressed={drawing}
        sx={{ minWidth: 0, px: 0.7 }}
        onClick={() => take(drawing ? null : { kind: "stretch", title: "ramp", take: (a, b) => void get([a, b]) })}
      >
        {drawing ? "drag a line on the view" : "along a line"}
      </Button>
      <Button size="small" color="inherit" sx={{ minWidth: 0, px: 0.7 }} onClick={() => void get(null)}>
        its main ones
      </Button>
      <LongAskShown busy={long.busy} says="Looking at its colours" onStop={long.stop} />
      {long.trouble && (
        <Typography variant="caption" color="error" component="div">
          {long.trouble}
        </Typography>
      )}
    </Typography>
  );
}
