import { Box, TextField } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { MONO } from "../../kit/theme";

export type TileNames = Schemas["TileNames"];

interface TileNamingProps {
  value: TileNames;
  onChange: (value: TileNames) => Promise<boolean>;
}

/** How the numbers of tiles stand in names, and where they are counted from. */
export function TileNaming({ value, onChange }: TileNamingProps) {
  const [ends, setEnds] = useState<string | null>(null);
  const keep = () => {
    if (ends !== null && ends !== value.ends) void onChange({ ...value, ends });
    setEnds(null);
  };
  const number = (label: string, name: "first" | "digits", min: number, max: number) => (
    <NumberToken
      label={label}
      value={value[name]}
      unit=""
      min={min}
      max={max}
      step={1}
      decimals={0}
      onCommit={(next) => onChange({ ...value, [name]: Math.round(next) })}
    />
  );
  return (
    <Box role="group" aria-label="Numbers of tiles" sx={{ fontSize: 13, lineHeight: 2.1 }}>
      Tiles end in{" "}
      <TextField
        variant="standard"
        value={ends ?? value.ends}
        onChange={(event) => setEnds(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === "Enter") keep();
        }}
        slotProps={{
          htmlInput: {
            "aria-label": "What names of tiles end in",
            style: { fontFamily: MONO, fontSize: 12.5, width: 110, height: 24, padding: 0 },
          },
        }}
      />{" "}
      unless a name holds their numbers; the first is {number("First number of tiles", "first", 0, 1000)}, with{" "}
      {number("Digits of tile numbers", "digits", 1, 6)} digits at least. Rows count from{" "}
      <ChoiceToken
        label="Where rows of tiles are counted from"
        value={value.rows}
        choices={[
          { value: "as_files", label: "where files begin" },
          { value: "north", label: "the north" },
          { value: "south", label: "the south" },
        ]}
        onChange={(rows) => void onChange({ ...value, rows: rows as TileNames["rows"] })}
      />
      , columns from{" "}
      <ChoiceToken
        label="Where columns of tiles are counted from"
        value={value.columns}
        choices={[
          { value: "as_files", label: "where files begin" },
          { value: "west", label: "the west" },
          { value: "east", label: "the east" },
        ]}
        onChange={(columns) => void onChange({ ...value, columns: columns as TileNames["columns"] })}
      />
      .
    </Box>
  );
}
