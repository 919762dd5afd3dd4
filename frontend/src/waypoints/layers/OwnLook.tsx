import { named } from "../../api/mapNames";
import { Box, Button } from "@mui/material";
import type { OwnLook as Look } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { useDocument, useProject } from "../../document/document";
import { previews } from "../../viewport/preview";

/** What holds for a look that was brought in, whoever wears it. */
export function OwnLook({ look }: { look: Look }) {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  const operation = (part: Partial<Look>) => ({ op: "set_look" as const, look: { ...look, ...part } });
  const set = async (part: Partial<Look>, key = false, field = "") => {
    const saved = await edit([operation(part)], {
      merge: key ? `look ${look.id}:${field}` : "",
      what: `a change to the look ${look.name}`,
    });
    previews.clear();
    return saved;
  };
  const metres = (label: string, field: "size" | "depth", value: number, min: number, max: number) => (
    <NumberToken
      label={`${label} of the look ${look.name}`}
      value={value}
      unit="m"
      min={min}
      max={max}
      step={field === "size" ? 0.1 : 0.01}
      decimals={2}
      onPreview={(v) => {
        if (v === null) previews.clear();
        else previews.ask(id, named.colour(), [operation({ [field]: v })]);
      }}
      onCommit={(v, key) => set({ [field]: v }, key, field)}
    />
  );
  return (
    <Box role="group" aria-label={`The look ${look.name}`}>
      Whoever wears {look.name}: {metres("Size", "size", look.size ?? 3, 0.1, 500)} across
      {look.relief && <>, relief {metres("Relief", "depth", look.depth ?? 0.1, 0, 100)} from black to white</>}
      {look.normal && (
        <>
          , green of its normal map points{" "}
          <ChoiceToken
            label={`Green of the look ${look.name}`}
            value={look.green ?? "up"}
            choices={[
              { value: "up", label: "up" },
              { value: "down", label: "down" },
            ]}
            onChange={(green) => void set({ green: green as "up" | "down" })}
          />
        </>
      )}
      .{" "}
      <Button
        size="small"
        color="inherit"
        sx={{ p: 0, minWidth: 0 }}
        onClick={() => void edit([{ op: "delete_look", look: look.id, take_off: true }])}
      >
        Take it out of the project
      </Button>
    </Box>
  );
}
