import { named } from "../../api/mapNames";
import { Alert, Box, Button, InputBase, Tooltip, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useReadings, useStats } from "../../document/queries";
import type { Reading } from "../../api/types";
import { firstBand } from "../recipe/band";
import { fit, fittedBand } from "../recipe/fit";
import { firstReading } from "../recipe/lines";
import { Card } from "../../kit/Card";
import { MoreMenu } from "../../kit/MoreMenu";
import { OwnFileToken } from "../files/OwnFileMark";
import { useOwnFile } from "../files/useOwnFile";
import { NameDialog } from "../../kit/NameDialog";
import { newId, useDocument, useProject } from "../../document/document";
import { useViewParts } from "../../viewport/view";
import { roles } from "../../kit/theme";
import { Gallery } from "./Gallery";
import { Numbers } from "./Numbers";
import { ParamTokens } from "./ParamTokens";
import { PictureButton } from "./PictureButton";
import { pickColour, PictureTools } from "./PictureTools";

export function ReadingsCard() {
  const readings = useReadings();
  const { subject, show } = useViewParts("subject", "show");
  const [find, setFind] = useState("");
  const [picked, setPicked] = useState(
    subject.kind === "reading" ? subject.name : (firstReading(readings)?.name ?? ""),
  );
  const chosen = readings.some((item) => item.name === picked) ? picked : (firstReading(readings)?.name ?? "");
  const over = subject.kind === "reading" ? subject.over : true;
  // A picture that is looked at in colour stays so until another reading is chosen.
  const coloured = subject.kind === "picture" && readings.some((item) => item.name === subject.name);
  useEffect(() => {
    if (!coloured) show({ kind: "reading", name: chosen, over });
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen, over, show]);
  const reading = readings.find((item) => item.name === chosen);
  return (
    <Card
      title="Readings"
      action={
        <InputBase
          value={find}
          onChange={(event) => setFind(event.target.value)}
          placeholder="/ find"
          inputProps={{ "aria-label": "Find a reading", "data-find": true }}
          sx={{ border: `1px solid ${roles.rule}`, borderRadius: 5, px: 1.4, fontSize: 13, width: 120, height: 30 }}
        />
      }
      foot={reading && <Foot reading={reading} onChoose={setPicked} />}
    >
      <Gallery readings={readings} chosen={chosen} find={find} onChoose={setPicked} />
      <PictureButton onMade={setPicked} />
    </Card>
  );
}

const SIZES: Record<Reading["at_other_sizes"], string> = {
  agrees: "",
  home: "Measured once on the ground's own grid; every size delivered takes it from there.",
  fine: "Larger sizes show finer detail of the same pattern.",
};

function Foot({ reading, onChoose }: { reading: Reading; onChoose: (name: string) => void }) {
  const { document, id, home } = useProject();
  const edit = useDocument((store) => store.edit);
  const { set, profile } = useViewParts("set", "profile");
  const stats = useStats(named.reading(reading.name));
  const go = useNavigate();
  const [naming, setNaming] = useState(false);
  const saved = document.readings?.find((item) => item.id === reading.numbers_of);

  const start = async () => {
    const found = await fit(id, reading.name).catch(() => null);
    const mask = newId("mask");
    const taken = new Set(document.masks.map((item) => item.name.toLowerCase()));
    let name = `By ${reading.title.toLowerCase()}`;
    for (let i = 2; taken.has(name.toLowerCase()); i++) name = `By ${reading.title.toLowerCase()} ${i}`;
    const line = {
      id: newId("line"),
      verb: "take",
      muted: false,
      note: "",
      strength: 1,
      source: found ? fittedBand(reading.name, found) : firstBand(reading, stats.data),
    } as const;
    if (await edit([{ op: "add_mask", mask: { id: mask, name, lines: [line] } }])) {
      set({ selectedMask: mask, selectedLine: line.id });
      await go(`/project/${id}/masks`);
    }
  };
  const another = async () => {
    const own = newId(reading.kind);
    const numbers = Object.fromEntries(reading.params.map((param) => [param.name, param.value]));
    const count =
      2 + (document.readings ?? []).filter((item) => item.kind === reading.kind && item.id !== item.kind).length;
    const setting = { id: own, kind: reading.kind, name: `${reading.title} ${count}`, numbers };
    if (await edit([{ op: "add_reading", setting }])) onChoose(own);
  };
  const restore = () =>
    void edit([
      {
        op: "set_reading",
        setting: { id: reading.numbers_of, kind: saved?.kind ?? reading.kind, name: saved?.name ?? null, numbers: {} },
      },
    ]);
  const remove = async () => {
    if (await edit([{ op: "delete_reading", reading: reading.name }])) onChoose(reading.kind);
  };
  const own = useOwnFile(named.reading(reading.name));
  const picture = String(reading.params.find((param) => param.kind === "picture")?.value ?? "");
  const line = { row0: (home.rows - 1) / 2, col0: 0, row1: (home.rows - 1) / 2, col1: home.cols - 1 };
  return (
    <Box sx={{ maxHeight: "46vh", overflowY: "auto" }}>
      <Box sx={{ display: "flex", alignItems: "flex-start", gap: 1 }}>
        <Typography variant="body2" sx={{ flex: 1 }}>
          <b>{reading.title}</b> {reading.sentence}{" "}
          <Box component="span" sx={{ color: "text.secondary" }}>
            {reading.good_for} {SIZES[reading.at_other_sizes]}
          </Box>{" "}
          <OwnFileToken of={named.reading(reading.name)} title={reading.title} />
        </Typography>
        <MoreMenu
          label={`More for ${reading.title}`}
          actions={[
            ...(reading.params.length > 0 ? [{ label: "Another with other numbers", act: () => void another() }] : []),
            own.action,
            ...(reading.own ? [{ label: "Rename", act: () => setNaming(true) }] : []),
            ...(saved && !reading.own ? [{ label: "Numbers as they were at first", act: restore }] : []),
            ...(reading.own ? [{ label: "Delete", act: () => void remove(), danger: true }] : []),
          ]}
        />
      </Box>
      {reading.trouble && (
        <Alert severity="warning" sx={{ my: 0.5 }}>
          {reading.trouble}
        </Alert>
      )}
      <ParamTokens reading={reading} />
      {reading.kind === "picture" && <PictureTools reading={reading} onChoose={onChoose} />}
      {reading.kind === "likeness" && picture && (
        <Button
          size="small"
          variant="outlined"
          color="inherit"
          onClick={() => pickColour(reading.name, picture)}
          sx={{ mt: 0.8 }}
        >
          Pick the colour on the picture
        </Button>
      )}
      <Numbers reading={reading} />
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button variant="contained" onClick={() => void start()}>
          Start a mask from it
        </Button>
        <Tooltip title={profile ? "Take the line off the plan" : "Read values along a line over the plan"}>
          <Button
            variant="outlined"
            color="inherit"
            aria-pressed={profile !== null}
            onClick={() => set({ profile: profile ? null : line })}
          >
            Profile line
          </Button>
        </Tooltip>
      </Box>
      <NameDialog
        open={naming}
        title="Rename the reading"
        suggestion={reading.title}
        action="Rename"
        onClose={() => setNaming(false)}
        onName={(name) =>
          void edit([
            {
              op: "set_reading",
              setting: { id: reading.name, kind: reading.kind, name, numbers: saved?.numbers ?? {} },
            },
          ])
        }
      />
    </Box>
  );
}
