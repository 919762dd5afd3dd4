import { Box, Button, DialogActions, DialogContent, DialogTitle, TextField } from "@mui/material";
import { useState } from "react";
import { useRules } from "../../document/queries";
import type { Target } from "../../api/types";
import { FormsToken } from "./FormsToken";
import { Example, useChecked } from "./TargetExample";
import { FilesRow, HeightRow, KindRow, LayersRow, PositionRow, Row, RuleRow, UnitsRow } from "./TargetRows";
import { KindsRow } from "./KindsRow";
import { TileNaming } from "./TileNaming";
import { TextRows } from "./TextRows";

type Rules = Target["rules"];

interface EditorProps {
  rules: Rules;
  onClose: () => void;
  onKeep: (rules: Rules) => Promise<void>;
}

const REQUIRED: { value: Rules["required"][number]; label: string }[] = [
  { value: "weights", label: "weights" },
  { value: "colour", label: "a colour map" },
  { value: "colour_middle", label: "a middle colour map" },
  { value: "colour_far", label: "a far colour map" },
  { value: "occlusion", label: "occlusion" },
  { value: "normal", label: "a normal map" },
  { value: "roughness", label: "roughness" },
  { value: "classes", label: "a map of classes" },
];

/** The rules of an own target, with what they would make of this project as they are changed. */
export function TargetEditor({ rules: first, onClose, onKeep }: EditorProps) {
  const kinds = useRules().data;
  const [rules, setRules] = useState(first);
  const checked = useChecked(rules);
  if (!kinds) return null;
  const set = (part: Partial<Rules>) => setRules({ ...rules, ...part });
  const row = { rules, kinds, set };
  return (
    <>
      <DialogTitle>Rules of {rules.title || "a target"}</DialogTitle>
      <DialogContent sx={{ display: "grid", gridTemplateColumns: "1fr 250px", gap: 2 }}>
        <Box sx={{ minWidth: 0 }}>
          <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
            <TextField
              size="small"
              label="Title"
              value={rules.title}
              onChange={(event) => set({ title: event.target.value })}
            />
            <TextField
              size="small"
              fullWidth
              label="In one sentence"
              value={rules.sentence}
              onChange={(event) => set({ sentence: event.target.value })}
            />
          </Box>
          <RuleRow title="Sizes" name="sizes" {...row} />
          <HeightRow {...row} />
          <KindRow title="Masks" name="masks" {...row} />
          <KindRow title="Colour" name="colour" {...row} />
          <KindRow title="Detail" name="detail" {...row} />
          <FilesRow {...row} />
          <RuleRow title="Weights" name="sheets" {...row} />
          <LayersRow {...row} />
          <RuleRow title="Mixing" name="mixing" {...row} />
          <RuleRow title="Tiles" name="tiles" {...row} />
          <Row title="Their names">
            <TileNaming
              value={rules.tile_names}
              onChange={(tile_names) => {
                set({ tile_names });
                return Promise.resolve(true);
              }}
            />
          </Row>
          <KindsRow {...row} />
          <RuleRow title="Far and near" name="distances" {...row} />
          <Row title="Needs">
            <FormsToken
              label="Maps that are needed"
              none="nothing"
              value={rules.required}
              forms={REQUIRED}
              onChange={(required) => set({ required: required as Rules["required"] })}
            />
          </Row>
          <PositionRow {...row} />
          <UnitsRow {...row} />
          <TextRows
            title="Switch off, or set to"
            fields={[
              ["setting", "Setting"],
              ["to", "To"],
              ["because", "Because"],
            ]}
            rows={rules.neutral}
            onChange={(neutral) => set({ neutral: neutral as Rules["neutral"] })}
          />
          <TextRows
            title="After the import"
            fields={[
              ["do", "Do"],
              ["because", "Because"],
            ]}
            rows={rules.after}
            onChange={(after) => set({ after: after as Rules["after"] })}
          />
        </Box>
        <Example checked={checked} />
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Back
        </Button>
        <Button variant="contained" disabled={!checked?.rules} onClick={() => void onKeep(rules)}>
          Keep it
        </Button>
      </DialogActions>
    </>
  );
}
