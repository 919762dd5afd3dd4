import { Box, IconButton, TextField } from "@mui/material";
import CloseIcon from "@mui/icons-material/Close";
import { useState } from "react";
import { named, readName } from "../../api/mapNames";
import type { ProjectDocument } from "../../api/types";
import { useDocument, useProject } from "../../document/document";
import { outcomes } from "../../document/outcomes";
import { Heading } from "../../kit/Card";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";

type Classes = ProjectDocument["classes"];
type GroundClass = Classes["classes"][number];

/** Numbers for what the ground is made of, and where it is open: maps of their own beside the weights. */
export function ClassesInset() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { classes, holes, otherwise = "Nothing" } = document.classes;
  const put = (part: Partial<Classes>) =>
    edit([{ op: "set_classes", classes: { ...document.classes, ...part } }], { what: "classes of the ground" });
  const set = (at: number, part: Partial<GroundClass>) =>
    put({ classes: classes.map((item, k) => (k === at ? { ...item, ...part } : item)) });
  const things = [
    ...outcomes(document).map((item) => ({ value: `layer:${item.id}`, label: item.name ?? "Base", group: "Layers" })),
    ...document.masks.map((item) => ({ value: named.mask(item.id), label: item.name, group: "Masks" })),
  ];
  const left = things.filter((thing) => classes.every((item) => item.of !== thing.value));
  const add = (of: string) => {
    const name = things.find((thing) => thing.value === of)?.label ?? "Class";
    const used = new Set(classes.map((item) => item.number));
    const number = Array.from({ length: 255 }, (_, k) => k + 1).find((k) => !used.has(k)) ?? 255;
    void put({ classes: [...classes, { number, name, of }] });
  };
  return (
    <Box role="group" aria-label="Classes of the ground" sx={{ fontSize: 13, lineHeight: 2.1 }}>
      <Heading>Classes and holes</Heading>
      {classes.map((item, at) => (
        <Box key={item.of} sx={{ display: "flex", alignItems: "baseline", gap: 0.6 }}>
          <NumberToken
            label={`Number of ${item.name}`}
            value={item.number}
            unit=""
            min={1}
            max={255}
            step={1}
            decimals={0}
            onCommit={(number) => set(at, { number: Math.round(number) })}
          />
          is
          <ClassName
            label={`Name of class ${item.number}`}
            name={item.name}
            onName={(name) => void set(at, { name })}
          />
          <Box component="span" sx={{ flex: 1, lineHeight: 1.4 }}>
            where {things.find((thing) => thing.value === item.of)?.label} is{" "}
            {readName(item.of)?.kind === "mask" ? "above a half" : "strongest"}
          </Box>
          <IconButton
            size="small"
            aria-label={`Take the class ${item.name} away`}
            onClick={() => void put({ classes: classes.filter((_, k) => k !== at) })}
          >
            <CloseIcon sx={{ fontSize: 16 }} />
          </IconButton>
        </Box>
      ))}
      {left.length > 0 && (
        <ChoiceToken
          label="One more class of the ground"
          value=""
          text={classes.length === 0 ? "number what the ground is made of…" : "one more class…"}
          choices={left}
          onChange={add}
        />
      )}
      {classes.length > 0 && (
        <div>
          Anything else is 0, called{" "}
          <ClassName label="Name of class 0" name={otherwise} onName={(name) => void put({ otherwise: name })} />.
        </div>
      )}
      <div>
        Open, with holes, where{" "}
        <ChoiceToken
          label="Where the ground is open"
          value={holes ?? ""}
          choices={[
            { value: "", label: "nothing is" },
            ...document.masks.map((item) => ({ value: item.id, label: `${item.name} is above a half` })),
          ]}
          onChange={(mask) => void put({ holes: mask || null })}
        />
        .
      </div>
      {(classes.length > 0 || holes) && (
        <Box sx={{ color: "text.secondary", fontSize: 12, lineHeight: 1.5 }}>
          Later classes lie over earlier ones, masks over layers. They are delivered like any other map: choose them
          above.
        </Box>
      )}
    </Box>
  );
}

function ClassName({ label, name, onName }: { label: string; name: string; onName: (name: string) => void }) {
  const [text, setText] = useState<string | null>(null);
  const keep = () => {
    if (text !== null && text.trim() && text.trim() !== name) onName(text.trim());
    setText(null);
  };
  return (
    <TextField
      variant="standard"
      value={text ?? name}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep();
      }}
      sx={{ width: 110, verticalAlign: "baseline" }}
      slotProps={{ htmlInput: { "aria-label": label, style: { fontSize: 13, padding: 0 } } }}
    />
  );
}
