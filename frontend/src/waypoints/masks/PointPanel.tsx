import { named } from "../../api/mapNames";
import { Alert, Box, Button, ButtonBase, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { ask, client, sentence } from "../../api/client";
import { useReadings } from "../../document/queries";
import type { Mask, Operation, Proposal } from "../../api/types";
import { Inset } from "../../kit/Card";
import { Segments } from "../../kit/Segments";
import { newId, settled, useDocument, useProject } from "../../document/document";
import { previews } from "../../viewport/preview";
import { useTools, type Place, useToolsParts } from "../../viewport/tools";
import { useView } from "../../viewport/view";
import { MONO, roles } from "../../kit/theme";
import { short } from "../../kit/numbers";
import { sourceName } from "../recipe/SourceTokens";

/** Mark places that should be in and places that should not; take one of the recipes that tell them apart. */
export function PointPanel({ mask, onDone }: { mask: Mask; onDone: () => void }) {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const { tool, marks, take, clearMarks } = useToolsParts("tool", "marks", "take", "clearMarks");
  const way = tool?.kind === "mark" ? tool.way : null;
  const { found, trouble } = useProposals(marks);
  const [chosen, setChosen] = useState(0);
  const proposal = found[chosen] ?? found[0] ?? null;
  const key = JSON.stringify(proposal?.lines ?? []);

  useEffect(() => {
    take({ kind: "mark", way: "inside" });
    return () => {
      useTools.getState().take(null);
      previews.clear();
    };
  }, [take]);

  // The chosen proposal stands on the map until it is taken.
  useEffect(() => {
    const operations = replacing(mask, JSON.parse(key) as Proposal["lines"]);
    if (operations.length > 0) previews.ask(id, named.mask(mask.id), operations);
    else previews.clear();
  }, [id, mask, key]);

  const keep = async () => {
    if (!proposal) return;
    const operations = replacing(mask, proposal.lines);
    const first = operations.find((op) => op.op === "add_line");
    if (await edit(operations, { what: "the proposed recipe" })) {
      set({ selectedLine: first?.op === "add_line" ? first.line.id : null });
      clearMarks();
      onDone();
    }
  };
  const panel = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // What it returns is no way to end the effect.
    void panel.current?.scrollIntoView({ block: "nearest" });
  }, [found.length]);

  return (
    <Inset ref={panel} role="region" aria-label="Point at the ground" chosen>
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center", mb: 1 }}>
        <b>Point at the ground</b>
        <Button size="small" color="inherit" onClick={onDone}>
          Close
        </Button>
      </Box>
      <Segments
        label="What a click marks"
        options={[
          { value: "inside", label: `Should be in · ${marks.inside.length}` },
          { value: "outside", label: `Should not · ${marks.outside.length}` },
        ]}
        value={way ?? "inside"}
        onChange={(next) => take({ kind: "mark", way: next })}
      />
      <Typography variant="caption" color="textSecondary" sx={{ display: "block", my: 0.8 }}>
        Click places on Plan or Relief; click a mark to take it away. Three of each are enough to begin with.
      </Typography>
      {trouble && <Alert severity="error">{trouble}</Alert>}
      {found.map((item, i) => (
        <ButtonBase
          key={JSON.stringify(item.lines)}
          aria-pressed={item === proposal}
          onClick={() => setChosen(i)}
          sx={{
            display: "block",
            width: "100%",
            textAlign: "left",
            p: 1,
            mb: 0.6,
            fontFamily: "inherit",
            fontSize: 13,
            lineHeight: 1.6,
            borderRadius: 1,
            border: `1px solid ${item === proposal ? roles.gentian : roles.rule}`,
            bgcolor: item === proposal ? roles.gentianWash : "transparent",
          }}
        >
          <Words lines={item.lines} />
          <Honest proposal={item} />
        </ButtonBase>
      ))}
      {found.length > 0 && (
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button size="small" variant="contained" onClick={() => void keep()}>
            Take this recipe
          </Button>
          <Button size="small" color="inherit" onClick={clearMarks}>
            Clear the marks
          </Button>
        </Box>
      )}
    </Inset>
  );
}

/** The edits that put proposed lines in the place of a mask's own. */
function replacing(mask: Mask, lines: Proposal["lines"]): Operation[] {
  if (lines.length === 0) return [];
  return [
    ...mask.lines.map((line) => ({ op: "delete_line" as const, mask: mask.id, line: line.id })),
    ...lines.map((line) => ({ op: "add_line" as const, mask: mask.id, line: { ...line, id: newId("line") } })),
  ];
}

function useProposals(marks: { inside: Place[]; outside: Place[] }) {
  const { id, ground_key: ground } = useProject();
  const [found, setFound] = useState<Proposal[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const ready = marks.inside.length > 0 && marks.outside.length > 0;
  useEffect(() => {
    if (!ready) return;
    const stop = new AbortController();
    const places = (items: Place[]) => items.map((p) => [p.east, p.south] as [number, number]);
    settled()
      .then(() =>
        ask(
          client.POST("/api/projects/{project_id}/point", {
            params: { path: { project_id: id } },
            body: { inside: places(marks.inside), outside: places(marks.outside) },
            signal: stop.signal,
          }),
        ),
      )
      .then(
        (answer) => {
          if (stop.signal.aborted) return;
          setFound(answer);
          setTrouble(null);
        },
        (error: unknown) => !stop.signal.aborted && setTrouble(sentence(error)),
      );
    return () => stop.abort();
  }, [id, ground, marks, ready]);
  return { found: ready ? found : [], trouble: ready ? trouble : null };
}

/** A proposal as it will read. */
function Words({ lines }: { lines: Proposal["lines"] }) {
  const { document } = useProject();
  const readings = useReadings();
  return (
    <>
      {lines.map((line, i) => {
        if (!("source" in line)) return null;
        const { source } = line;
        if (source.kind === "feature")
          return (
            <span key={i} style={{ display: "block" }}>
              <b>{line.verb === "leave_out" ? "Leave out" : i === 0 ? "Take" : "Keep only within"}</b>{" "}
              {sourceName(source, document, readings)}{" "}
              <span style={{ fontFamily: MONO, whiteSpace: "nowrap" }}>
                {short(source.width ?? 0)} m wide, fading over {short(source.fade ?? 0)} m
              </span>
            </span>
          );
        if (source.kind !== "band") return null;
        const reading = readings.find((item) => item.name === source.reading);
        const unit = reading?.unit === "°" ? "°" : ` ${reading?.unit ?? ""}`;
        return (
          <span key={i} style={{ display: "block" }}>
            <b>{i === 0 ? "Take" : "Keep only within"}</b> {reading?.title.toLowerCase() ?? source.reading}{" "}
            <span style={{ fontFamily: MONO, whiteSpace: "nowrap" }}>
              {short(source.low)} to {short(source.high)}
              {unit}
            </span>
          </span>
        );
      })}
    </>
  );
}

function Honest({ proposal }: { proposal: Proposal }) {
  const wrong = proposal.wrong_in.length + proposal.wrong_out.length;
  if (wrong > 0)
    return (
      <Typography variant="caption" sx={{ color: roles.amber, display: "block" }}>
        These marks cannot all be told apart: {proposal.wrong_in.length} that should be in and{" "}
        {proposal.wrong_out.length} that should not come out wrong.
      </Typography>
    );
  return (
    <Typography variant="caption" color="textSecondary" sx={{ display: "block" }}>
      Holds every mark; {(proposal.apart * 100).toFixed(0)} % of the ground lies between the two kinds.
    </Typography>
  );
}
