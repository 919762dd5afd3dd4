import { Alert, Box, Button, ButtonBase, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import { useEffect, useState } from "react";
import { sentence } from "../api/client";
import { useReadings, useScatterPoints } from "../api/queries";
import type { Scatter } from "../api/types";
import { freeName } from "../masks/lines";
import { Heading } from "../parts/Card";
import { ChoiceToken } from "../parts/ChoiceToken";
import { ColourToken } from "../parts/ColourToken";
import { MoreMenu } from "../parts/MoreMenu";
import { NameDialog } from "../parts/NameDialog";
import { NumberToken } from "../parts/NumberToken";
import { newId, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { roles, SCATTERED } from "../theme";
import { trim } from "../viewport/subjects";

/** Plants and stones: what is scattered, where, how densely, how large. */
export function ScatterTab() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { subject, show } = useView();
  const scatters = document.scatters ?? [];
  const chosen = scatters.find((item) => subject.kind === "scatter" && item.id === subject.id) ?? scatters[0] ?? null;
  const id = chosen?.id ?? null;

  useEffect(() => {
    if (id) show({ kind: "scatter", id });
  }, [id, show]);

  const add = async () => {
    const own = newId("scatter");
    const name = freeName(
      scatters.map((item) => item.name),
      scatters.length === 0 ? "Stones" : "Scatter",
    );
    const mask = document.masks[0]?.id ?? null;
    if (await edit([{ op: "add_scatter", scatter: { id: own, name, mask } as Scatter }]))
      show({ kind: "scatter", id: own });
  };
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.8, mt: 1 }}>
        {scatters.map((item) => (
          <ButtonBase
            key={item.id}
            aria-pressed={item === chosen}
            onClick={() => show({ kind: "scatter", id: item.id })}
            sx={{
              px: 1.2,
              minHeight: 30,
              borderRadius: 1,
              fontFamily: "inherit",
              fontSize: 13.5,
              border: `1px solid ${item === chosen ? roles.gentian : roles.rule}`,
              bgcolor: item === chosen ? roles.gentianWash : "transparent",
            }}
          >
            <Box component="span" sx={{ width: 10, height: 10, borderRadius: 5, bgcolor: item.colour, mr: 0.8 }} />
            {item.name}
          </ButtonBase>
        ))}
        <Button size="small" variant="outlined" color="inherit" startIcon={<AddIcon />} onClick={() => void add()}>
          Scatter something
        </Button>
      </Box>
      {chosen ? (
        <ScatterCard key={chosen.id} scatter={chosen} />
      ) : (
        <Typography color="textSecondary" sx={{ mt: 2 }} variant="body2">
          Nothing is scattered yet. Stones or plants take their density from a mask and keep a distance from each other;
          they are delivered as a density map and a list of points.
        </Typography>
      )}
    </>
  );
}

function ScatterCard({ scatter }: { scatter: Scatter }) {
  const { id, document } = useProject();
  const edit = useDocument((store) => store.edit);
  const readings = useReadings();
  const points = useScatterPoints(scatter.id);
  const [renaming, setRenaming] = useState(false);
  const change = (part: Partial<Scatter>, field = "") =>
    edit([{ op: "set_scatter", scatter: { ...scatter, ...part } }], {
      merge: field ? `scatter:${scatter.id}:${field}` : "",
      what: `a change to ${scatter.name}`,
    });
  const number = (
    label: string,
    field: keyof Scatter,
    unit: string,
    min: number,
    max: number,
    step: number,
    times = 1,
  ) => (
    <NumberToken
      label={label}
      value={Number((Number(scatter[field]) * times).toFixed(4))}
      unit={unit}
      min={min}
      max={max}
      step={step}
      decimals={step < 1 ? 2 : 0}
      onCommit={(v, key) => change({ [field]: v / times }, key ? field : "")}
    />
  );
  const masks = document.masks.map((mask) => ({ value: mask.id, label: mask.name }));
  const kept = scatter.keep_out ?? [];
  const file = `/api/projects/${id}/scatters/${scatter.id}/points?form=`;
  return (
    <>
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between", mt: 1 }}>
        <Heading>{scatter.name}</Heading>
        <MoreMenu
          label={`More for ${scatter.name}`}
          actions={[
            { label: "Rename…", act: () => setRenaming(true) },
            { label: "Points as CSV", act: { href: `${file}csv` } },
            { label: "Points as GeoJSON", act: { href: `${file}geojson` } },
            { label: "Points as PLY", act: { href: `${file}ply` } },
            {
              label: "Delete",
              act: () => void edit([{ op: "delete_scatter", scatter: scatter.id }]),
              danger: true,
            },
          ]}
        />
      </Box>
      <Box sx={{ fontSize: 13.5, lineHeight: 2 }}>
        <div>
          <b>Where</b> the mask{" "}
          <ChoiceToken
            label="Density from"
            value={scatter.mask ?? ""}
            choices={[{ value: "", label: "everywhere" }, ...masks]}
            onChange={(value) => void change({ mask: value || null })}
          />{" "}
          is strong, on slopes up to {number("Steepest", "steepest", "°", 0, 90, 1)}
          {kept.map((mask, i) => (
            <span key={mask}>
              , not in{" "}
              <ChoiceToken
                label={`Keep out ${i + 1}`}
                value={mask}
                choices={[...masks, { value: "", label: "(allow it)" }]}
                onChange={(value) =>
                  void change({
                    keep_out: kept.map((item) => (item === mask ? value : item)).filter((item) => item !== ""),
                  })
                }
              />
            </span>
          ))}
          {kept.length < masks.length && (
            <Button
              size="small"
              color="inherit"
              sx={{ minHeight: 24, fontSize: 12 }}
              onClick={() => {
                const free = masks.find((mask) => !kept.includes(mask.value) && mask.value !== scatter.mask);
                if (free) void change({ keep_out: [...kept, free.value] });
              }}
            >
              + keep out of…
            </Button>
          )}
        </div>
        <div>
          <b>How many</b> {number("Density", "density", "on 100 m²", 0.01, 100, 0.05)}, none nearer than{" "}
          {number("Least distance", "distance", "m", 0, 200, 0.5)}, seed {number("Seed", "seed", "", 0, 999999, 1)}
        </div>
        <div>
          <b>How large</b> {number("Smallest", "size_low", "m", 0.05, 100, 0.05)} to{" "}
          {number("Largest", "size_high", "m", 0.05, 100, 0.05)} by{" "}
          <ChoiceToken
            label="Size by"
            value={scatter.size_by ?? ""}
            choices={[
              { value: "", label: "nothing" },
              ...document.masks.map((mask) => ({ value: `mask:${mask.id}`, label: mask.name, group: "The mask" })),
              ...readings.map((item) => ({
                value: `reading:${item.name}`,
                label: item.title.toLowerCase(),
                group: "The reading",
              })),
            ]}
            onChange={(value) => void change({ size_by: value })}
          />
          , give or take {number("Spread of sizes", "spread", "%", 0, 100, 1, 100)}
        </div>
        <div>
          <b>Shown</b> in{" "}
          <ColourToken
            label={`Colour of ${scatter.name}`}
            value={scatter.colour ?? SCATTERED}
            onCommit={(colour) => void change({ colour })}
          />{" "}
          and <b>delivered</b>{" "}
          <ChoiceToken
            label="How the density is delivered"
            value={scatter.deliver === false ? "none" : String(scatter.bits ?? 8)}
            choices={[
              { value: "8", label: "as a density map of 8 bits" },
              { value: "16", label: "as a density map of 16 bits" },
              { value: "none", label: "not at all" },
            ]}
            onChange={(value) =>
              void change(value === "none" ? { deliver: false } : { deliver: true, bits: value === "16" ? 16 : 8 })
            }
          />
          {scatter.deliver !== false && (
            <>
              {" "}
              with points as{" "}
              <ChoiceToken
                label="Form of the point list"
                value={scatter.points_format ?? "csv"}
                choices={[
                  { value: "csv", label: "CSV" },
                  { value: "geojson", label: "GeoJSON" },
                  { value: "ply", label: "PLY" },
                  { value: "none", label: "no list" },
                ]}
                onChange={(value) => void change({ points_format: value as NonNullable<Scatter["points_format"]> })}
              />
            </>
          )}
        </div>
      </Box>
      {points.error && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {sentence(points.error)}
        </Alert>
      )}
      {points.data && (
        <Typography variant="body2" sx={{ mt: 1 }} role="status">
          <b>{trim(points.data.count, 0)}</b> stand on the ground.
          {points.data.crowded !== null &&
            ` The distance leaves room for at most ${trim(points.data.crowded, 2)} on 100 m².`}
        </Typography>
      )}
      <NameDialog
        open={renaming}
        title={`Rename ${scatter.name}`}
        suggestion={scatter.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => void change({ name })}
      />
    </>
  );
}
