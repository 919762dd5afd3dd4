import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { fetchDetail } from "../../api/maps";
import { usePainting } from "../../document/queries";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { Heading, Inset } from "../../kit/Card";
import { useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { OwnFileToken } from "../files/OwnFileMark";
import { useOwnFile } from "../files/useOwnFile";
import { PAINTED_TITLES } from "../../document/sourceTitle";
import { paintedName } from "../../viewport/subjects/colour";
import { SideBySide } from "./SideBySide";

/** The map that is looked at, written at any size; and what a finer size gains over enlarging. */
export function WriteInset() {
  const { id, home } = useProject();
  const painting = usePainting();
  const subject = useView((view) => view.subject);
  const map = subject.kind === "colour" ? subject.map : "colour";
  const name = paintedName(map);
  const own = useOwnFile(name);
  const [size, setSize] = useState("0");
  const [depth, setDepth] = useState("8");
  const sizes = painting?.sizes ?? [];
  const chosen = sizes[Number(size)];
  const finer = chosen ? Math.round(Math.max(chosen.rows, chosen.cols) / Math.max(home.rows, home.cols)) : 1;
  const query = chosen
    ? new URLSearchParams({
        rows: String(chosen.rows),
        cols: String(chosen.cols),
        registration: chosen.registration,
        depth,
      }).toString()
    : "";
  return (
    <>
      <Heading>Write it</Heading>
      <Inset>
        <Box sx={{ fontSize: 13.5, lineHeight: 2 }}>
          {PAINTED_TITLES[map]} with{" "}
          <ChoiceToken
            label="Size to write"
            value={size}
            choices={sizes.map((item, i) => ({
              value: String(i),
              label: `${item.cols} × ${item.rows}, ${item.title}`,
            }))}
            onChange={setSize}
          />{" "}
          in <ChoiceToken label="Depth to write" value={depth} choices={painting?.depths ?? []} onChange={setDepth} />
        </Box>
        <Box sx={{ fontSize: 13.5 }}>
          <OwnFileToken of={name} title={PAINTED_TITLES[map]} />
        </Box>
        <Box sx={{ display: "flex", gap: 1, mt: 0.5, alignItems: "center" }}>
          <Button
            size="small"
            variant="outlined"
            color="inherit"
            component="a"
            disabled={!chosen}
            href={`/api/projects/${id}/painted/${encodeURIComponent(name)}?${query}`}
            download
          >
            Write the file
          </Button>
          {typeof own.action.act === "function" && (
            <Button size="small" color="inherit" onClick={own.action.act}>
              {own.action.label}
            </Button>
          )}
          <Typography variant="caption" color="textSecondary">
            {map.startsWith("colour") ? "Tagged sRGB (float: linear light)." : "Data: no colour tag."}
          </Typography>
        </Box>
        {finer > 1 && <Gained name={name} finer={Math.min(finer, 8)} />}
      </Inset>
    </>
  );
}

/** A part of the map made finer, beside the same merely enlarged. */
function Gained({ name, finer }: { name: string; finer: number }) {
  return (
    <SideBySide
      name="gained"
      open="What does it gain?"
      close="Hide what it gains"
      of={`${name} ${finer}`}
      ask={(project, place, signal) => fetchDetail(project, { name, ...place, finer }, signal)}
      left={`made ${finer} times as fine`}
      right="only enlarged"
    />
  );
}
