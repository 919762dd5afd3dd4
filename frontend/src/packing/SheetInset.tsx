import { Box, ButtonBase } from "@mui/material";
import { useState } from "react";
import type { Sheet } from "../api/types";
import { Inset } from "../parts/Card";
import { ChoiceToken } from "../parts/ChoiceToken";
import { MoreMenu } from "../parts/MoreMenu";
import { NameDialog } from "../parts/NameDialog";
import { useDocument } from "../state/document";
import { useView } from "../state/view";
import { MONO } from "../theme";
import { ChannelRow } from "./ChannelRow";
import { LETTERS } from "./sources";

/** A sheet with its channels. */
export function SheetInset({ sheet, chosen }: { sheet: Sheet; chosen: boolean }) {
  const edit = useDocument((store) => store.edit);
  const show = useView((view) => view.show);
  const set = (part: Partial<Sheet>) =>
    edit([{ op: "set_sheet", sheet: { ...sheet, ...part } }], { what: `a change to ${sheet.name}` });
  const style = useView((view) => (view.subject.kind === "sheet" ? view.subject.style : "each"));
  return (
    <Inset chosen={chosen} role="group" aria-label={`Sheet ${sheet.name}`}>
      <Box
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 0.5,
          borderBottom: "1px dashed",
          borderColor: "divider",
          pb: 0.5,
        }}
      >
        <ButtonBase
          onClick={() => show({ kind: "sheet", id: sheet.id, style })}
          sx={{ fontFamily: "inherit", fontWeight: 700, fontSize: 14, borderRadius: 1 }}
          aria-label={`Look at ${sheet.name}`}
        >
          {sheet.name}
        </ButtonBase>
        <Box sx={{ ml: "auto", fontFamily: MONO, fontSize: 11.5, color: "text.secondary" }}>
          <ChoiceToken
            label={`Channels of ${sheet.name}`}
            value={sheet.layout}
            choices={[
              { value: "rgba", label: "RGBA 8 · straight alpha" },
              { value: "rgb", label: "RGB 8" },
              { value: "grey", label: "grey 8" },
            ]}
            onChange={(layout) => void set({ layout: layout as Sheet["layout"] })}
          />
        </Box>
        <SheetMenu sheet={sheet} />
      </Box>
      {LETTERS[sheet.layout].map((letter) => (
        <ChannelRow key={letter} sheet={sheet} letter={letter} onSet={(source) => set({ [letter]: source })} />
      ))}
    </Inset>
  );
}

function SheetMenu({ sheet }: { sheet: Sheet }) {
  const edit = useDocument((store) => store.edit);
  const [renaming, setRenaming] = useState(false);
  return (
    <>
      <MoreMenu
        label={`More for ${sheet.name}`}
        actions={[
          { label: "Rename…", act: () => setRenaming(true) },
          { label: "Delete", act: () => void edit([{ op: "delete_sheet", sheet: sheet.id }]), danger: true },
        ]}
      />
      <NameDialog
        open={renaming}
        title={`Rename ${sheet.name}`}
        suggestion={sheet.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => void edit([{ op: "set_sheet", sheet: { ...sheet, name } }])}
      />
    </>
  );
}
