import { named, type MapText } from "../../api/mapNames";
import { Box, Typography } from "@mui/material";
import { usePainting } from "../../document/queries";
import type { Schemas } from "../../api/client";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { useDocument, useProject } from "../../document/document";
import { previews } from "../../viewport/preview";

type Mixing = Schemas["Mixing"];

/** How the layers share, and whether all textures are of one size. */
export function MixingSentence() {
  const { id, document } = useProject();
  const edit = useDocument((store) => store.edit);
  const painting = usePainting();
  const mixing: Mixing = document.mixing ?? {};
  const sharing = mixing.sharing ?? "cover";
  const told = painting?.sharings.find((item) => item.value === sharing);
  const set = async (part: Partial<Mixing>, key = false, field = "") => {
    const saved = await edit([{ op: "set_mixing", mixing: { ...mixing, ...part } }], {
      merge: key ? `mixing ${field}` : "",
      what: "how layers share",
    });
    previews.clear();
    return saved;
  };
  const preview = (part: Partial<Mixing> | null, map: MapText) => {
    if (part) previews.ask(id, map, [{ op: "set_mixing", mixing: { ...mixing, ...part } }]);
    else previews.clear();
  };
  return (
    <Box sx={{ fontSize: 13.5, lineHeight: 2, mb: 0.5 }}>
      Layers share{" "}
      <ChoiceToken
        label="Sharing"
        value={sharing}
        choices={painting?.sharings ?? [{ value: sharing, label: sharing }]}
        onChange={(value) => void set({ sharing: value as Mixing["sharing"] })}
      />
      {told?.by_relief && (
        <>
          , meeting over{" "}
          <NumberToken
            label="Depth of sharing"
            value={mixing.depth ?? 0.1}
            unit="m"
            min={0.01}
            max={5}
            step={0.01}
            decimals={2}
            onPreview={(v) => preview(v === null ? null : { depth: v }, named.layers())}
            onCommit={(v, key) => set({ depth: v }, key, "depth")}
          />
        </>
      )}
      ; their textures are{" "}
      <ChoiceToken
        label="Size of textures"
        value={typeof mixing.one_size === "number" ? "one" : "own"}
        choices={[
          { value: "own", label: "each its own size" },
          { value: "one", label: "all of one size" },
        ]}
        onChange={(value) => void set({ one_size: value === "one" ? 4 : null })}
      />
      {typeof mixing.one_size === "number" && (
        <>
          ,{" "}
          <NumberToken
            label="Size of all textures"
            value={mixing.one_size}
            unit="m"
            min={0.1}
            max={500}
            step={0.1}
            decimals={2}
            onPreview={(v) => preview(v === null ? null : { one_size: v }, named.colour())}
            onCommit={(v, key) => set({ one_size: v }, key, "one_size")}
          />
        </>
      )}
      .
      {told && (
        <Typography variant="caption" color="textSecondary" sx={{ display: "block", lineHeight: 1.4 }}>
          {told.sentence}
        </Typography>
      )}
    </Box>
  );
}
