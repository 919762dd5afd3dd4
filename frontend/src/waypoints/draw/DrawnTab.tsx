import { Alert, Box, Button, ButtonBase, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { sentence, upload, type Schemas } from "../../api/client";
import type { Feature } from "../../api/types";
import { freeName } from "../recipe/lines";
import { Heading } from "../../kit/Card";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { MoreMenu } from "../../kit/MoreMenu";
import { NameDialog } from "../../kit/NameDialog";
import { NumberToken } from "../../kit/NumberToken";
import { newId, useDocument, useProject } from "../../document/document";
import { type Tool, useToolsParts } from "../../viewport/tools";
import { useView } from "../../viewport/view";
import { roles } from "../../kit/theme";
import { trim } from "../../kit/numbers";
import { tracing } from "../../viewport/drawing";
import { FileButton } from "../../kit/FileButton";

type Kind = NonNullable<Feature["kind"]>;

const KINDS: { value: Kind; label: string }[] = [
  { value: "path", label: "path" },
  { value: "road", label: "road" },
  { value: "wall", label: "wall" },
  { value: "bank", label: "bank" },
  { value: "clearing", label: "clearing" },
];

/** What is drawn on the map: new lines and areas, lines that follow the ground, GeoJSON in and out. */
export function DrawnTab({ onUsed }: { onUsed: () => void }) {
  const { id, document, home } = useProject();
  const edit = useDocument((store) => store.edit);
  const {
    tool,
    take,
    editing,
    edit: choose,
    showDrawn,
  } = useToolsParts("tool", "take", "editing", "edit", "showDrawn");
  const [kind, setKind] = useState<Kind>("path");
  const [metres, setMetres] = useState(tracing.metres);
  const [trouble, setTrouble] = useState<string | null>(null);
  const features = document.features ?? [];

  useEffect(() => {
    showDrawn(true);
    return () => showDrawn(false);
  }, [showDrawn]);

  const pick = (next: Tool) => take(JSON.stringify(tool) === JSON.stringify(next) ? null : next);
  const button = (next: Tool, label: string) => {
    const active = JSON.stringify(tool) === JSON.stringify(next);
    return (
      <Button
        size="small"
        variant={active ? "contained" : "outlined"}
        color={active ? "secondary" : "inherit"}
        aria-pressed={active}
        onClick={() => pick(next)}
      >
        {label}
      </Button>
    );
  };
  const setLength = (value: number) => {
    tracing.metres = value;
    setMetres(value);
    return Promise.resolve(true);
  };
  const bring = async (file: File) => {
    setTrouble(null);
    try {
      const found = await upload<Schemas["FeaturesOut"]>(`/api/projects/${id}/features`, file);
      await edit(
        found.features.map((feature) => ({ op: "add_feature" as const, feature })),
        { what: "lines from a file" },
      );
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  return (
    <>
      <Heading>Draw</Heading>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap", fontSize: 13.5 }}>
        <span>
          A{" "}
          <ChoiceToken
            label="Kind of line"
            value={kind}
            choices={KINDS}
            onChange={(value) => {
              setKind(value as Kind);
              if (tool?.kind === "draw") take({ ...tool, feature: value as Kind });
            }}
          />
        </span>
        {button({ kind: "draw", feature: kind, closed: false }, "Line")}
        {button({ kind: "draw", feature: kind, closed: true }, "Area")}
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap", mt: 1, fontSize: 13.5 }}>
        {button({ kind: "trace", way: "contour" }, "Along a contour")}
        {button({ kind: "trace", way: "flow" }, "Down the flow")}
        <span>
          for{" "}
          <NumberToken
            label="Length of the line"
            value={metres}
            unit="m"
            min={10}
            max={Math.round(2 * (home.width + home.length))}
            step={50}
            decimals={0}
            onCommit={setLength}
          />
        </span>
      </Box>
      {tool && (
        <Typography variant="caption" color="textSecondary" sx={{ display: "block", mt: 1 }}>
          {tool.kind === "trace"
            ? "Click where the line starts."
            : "Click from point to point; Enter or a double click ends it, Backspace takes a point back."}{" "}
          Escape puts the tool away. With the keyboard: arrow keys move the view, Space sets a point in its middle.
        </Typography>
      )}
      <Heading aside={features.length > 0 ? "drag points; click a middle one for another" : undefined}>
        On the map
      </Heading>
      {features.length === 0 && (
        <Typography color="textSecondary" variant="body2">
          Nothing drawn yet. Draw a path, a road, a wall, a bank or a clearing, or bring lines in from a file.
        </Typography>
      )}
      <Box component="ul" aria-label="Drawn lines" sx={{ p: 0, m: 0, listStyle: "none" }}>
        {features.map((feature) => (
          <FeatureRow
            key={feature.id}
            feature={feature}
            chosen={editing === feature.id}
            onChoose={() => choose(editing === feature.id ? null : feature.id)}
            onUsed={onUsed}
          />
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1, mt: 1.5 }}>
        <FileButton id="geojson-file" what="lines" onFiles={([file]) => file && void bring(file)}>
          Bring in GeoJSON…
        </FileButton>
        <Button
          size="small"
          color="inherit"
          component="a"
          href={`/api/projects/${id}/features.geojson`}
          download
          disabled={features.length === 0}
        >
          Send out as GeoJSON
        </Button>
      </Box>
      {trouble && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {trouble}
        </Alert>
      )}
    </>
  );
}

function lengthOf(feature: Feature): number {
  const points = feature.closed ? [...feature.points, ...feature.points.slice(0, 1)] : feature.points;
  let total = 0;
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1], points[i]];
    if (a && b) total += Math.hypot((b[0] ?? 0) - (a[0] ?? 0), (b[1] ?? 0) - (a[1] ?? 0));
  }
  return total;
}

interface FeatureRowProps {
  feature: Feature;
  chosen: boolean;
  onChoose: () => void;
  onUsed: () => void;
}

function FeatureRow({ feature, chosen, onChoose, onUsed }: FeatureRowProps) {
  const { document, home } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const [renaming, setRenaming] = useState(false);
  const change = (part: Partial<Feature>) => void edit([{ op: "set_feature", feature: { ...feature, ...part } }]);
  const toMask = async () => {
    const spacing = Math.max(home.spacing_x, home.spacing_y);
    const id = newId("mask");
    const name = freeName(
      document.masks.map((item) => item.name),
      feature.name,
    );
    const size = (times: number) => Number((times * spacing).toPrecision(2));
    const source = {
      kind: "feature" as const,
      feature: feature.id,
      width: feature.closed ? 0 : size(2),
      fade: size(1.5),
      smooth: false,
    };
    const line = { id: newId("line"), verb: "take" as const, muted: false, note: "", strength: 1, source };
    if (await edit([{ op: "add_mask", mask: { id, name, lines: [line] } }])) {
      set({ selectedMask: id, selectedLine: line.id });
      onUsed();
    }
  };
  return (
    <Box
      component="li"
      sx={{
        display: "flex",
        alignItems: "center",
        border: `1px solid ${chosen ? roles.gentian : roles.rule}`,
        borderRadius: 1,
        mb: 0.6,
        pl: 1.2,
      }}
    >
      <ButtonBase
        aria-pressed={chosen}
        onClick={onChoose}
        sx={{ flex: 1, justifyContent: "space-between", minHeight: 34, fontFamily: "inherit", fontSize: 13.5 }}
      >
        <span>
          <b>{feature.name}</b> · {feature.kind}
          {feature.closed ? ", an area" : ""}
        </span>
        <Typography variant="caption" color="textSecondary">
          {trim(lengthOf(feature), 0)} m, {feature.points.length} points
        </Typography>
      </ButtonBase>
      <MoreMenu
        label={`More for ${feature.name}`}
        actions={[
          { label: "Make a mask of it", act: () => void toMask() },
          { label: "Rename…", act: () => setRenaming(true) },
          ...KINDS.filter((item) => item.value !== feature.kind).map((item) => ({
            label: `It is a ${item.label}`,
            act: () => change({ kind: item.value }),
          })),
          {
            label: feature.closed ? "Open it into a line" : "Close it into an area",
            act: () => change({ closed: !feature.closed }),
            off: !feature.closed && feature.points.length < 3,
          },
          {
            label: "Delete",
            act: () => void edit([{ op: "delete_feature", feature: feature.id }]),
            danger: true,
          },
        ]}
      />
      <NameDialog
        open={renaming}
        title={`Rename ${feature.name}`}
        suggestion={feature.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => change({ name })}
      />
    </Box>
  );
}
