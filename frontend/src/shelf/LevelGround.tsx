import { Alert, Button, DialogActions, DialogContent, DialogTitle, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, sentence } from "../api/client";

/** A typed number; a comma is as good as a point. */
function value(text: string): number {
  return Number(text.replace(",", "."));
}

/** Level ground of typed width and length: for masks that come without a heightmap. */
export function LevelGround({ onBack }: { onBack: () => void }) {
  const go = useNavigate();
  const [name, setName] = useState("Level ground");
  const [width, setWidth] = useState("1000");
  const [length, setLength] = useState("1000");
  const [samples, setSamples] = useState("1009");
  const [trouble, setTrouble] = useState<string | null>(null);
  const longer = Math.max(value(width), value(length));
  const spacing = longer / (value(samples) - 1);
  const make = async () => {
    try {
      const body = {
        name: name.trim(),
        width: value(width),
        length: value(length),
        samples: Math.round(value(samples)),
      };
      const state = await ask(client.POST("/api/flat-projects", { body }));
      await go(`/project/${state.id}/masks`);
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  const field = (label: string, text: string, set: (text: string) => void) => (
    <TextField
      label={label}
      value={text}
      onChange={(event) => set(event.target.value)}
      sx={{ width: 160, mr: 1.5, mt: 1.5 }}
    />
  );
  return (
    <>
      <DialogTitle>Level ground</DialogTitle>
      <DialogContent>
        <Typography color="textSecondary">
          Without a heightmap masks can still be brought in, drawn, cut and packed. A heightmap can take the level
          ground's place later.
        </Typography>
        <TextField
          fullWidth
          label="Name"
          value={name}
          onChange={(event) => setName(event.target.value)}
          sx={{ mt: 2 }}
        />
        {field("Width, m", width, setWidth)}
        {field("Length, m", length, setLength)}
        {field("Samples on the longer side", samples, setSamples)}
        <Typography variant="caption" color="textSecondary" sx={{ display: "block", mt: 1 }}>
          {Number.isFinite(spacing) && spacing > 0 ? `${spacing.toPrecision(4)} m between samples.` : "Type numbers."}
        </Typography>
        {trouble && (
          <Alert severity="error" sx={{ mt: 1 }}>
            {trouble}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onBack}>
          Back
        </Button>
        <Button
          variant="contained"
          disabled={name.trim() === "" || /[/\\:]/.test(name) || !(spacing > 0)}
          onClick={() => void make()}
        >
          Make the project
        </Button>
      </DialogActions>
    </>
  );
}
