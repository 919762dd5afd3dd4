import { readName } from "../../api/mapNames";
import { Box, ButtonBase } from "@mui/material";
import { useState } from "react";
import type { Channel, Sheet } from "../../api/types";
import { Inset } from "../../kit/Card";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { MoreMenu } from "../../kit/MoreMenu";
import { NameDialog } from "../../kit/NameDialog";
import { useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { MONO } from "../../kit/theme";
import { ChannelRow } from "./ChannelRow";
import { LAYOUTS, LETTERS } from "./sources";
import { useSourceOf } from "./useSourceOf";

/** A sheet with its channels. */
export function SheetInset({ sheet, chosen }: { sheet: Sheet; chosen: boolean }) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const show = useView((view) => view.show);
  const make = useSourceOf();
  const set = (part: Partial<Sheet>) =>
    edit([{ op: "set_sheet", sheet: { ...sheet, ...part } }], { what: `a change to ${sheet.name}` });
  const [renaming, setRenaming] = useState(false);
  const style = useView((view) => (view.subject.kind === "sheet" ? view.subject.style : "each"));
  /** A map takes the channel; another channel swaps with it. */
  const dropped = async (what: string, letter: Channel) => {
    const from = readName(what);
    if (from?.kind !== "channel") {
      const made = await make(what);
      if (made) await set({ [letter]: made });
      return;
    }
    const other = document.sheets.find((item) => item.id === from.sheet);
    const theirs = from.channel;
    if (!other || (other.id === sheet.id && theirs === letter)) return;
    if (other.id === sheet.id) await set({ [letter]: sheet[theirs] ?? null, [theirs]: sheet[letter] ?? null });
    else
      await edit([
        { op: "set_sheet", sheet: { ...sheet, [letter]: other[theirs] ?? null } },
        { op: "set_sheet", sheet: { ...other, [theirs]: sheet[letter] ?? null } },
      ]);
  };
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
          onDoubleClick={() => setRenaming(true)}
          title="Double click to rename"
          sx={{ fontFamily: "inherit", fontWeight: 700, fontSize: 14, borderRadius: 1 }}
          aria-label={`Look at ${sheet.name}`}
        >
          {sheet.name}
        </ButtonBase>
        <Box sx={{ ml: "auto", fontFamily: MONO, fontSize: 11.5, color: "text.secondary" }}>
          <ChoiceToken
            label={`Channels of ${sheet.name}`}
            value={`${sheet.layout}-${sheet.bits}`}
            choices={LAYOUTS}
            onChange={(value) => {
              const chosenLayout = LAYOUTS.find((item) => item.value === value);
              if (chosenLayout) void set({ layout: chosenLayout.layout, bits: chosenLayout.bits });
            }}
          />
        </Box>
        <SheetMenu sheet={sheet} renaming={renaming} onRenaming={setRenaming} />
      </Box>
      {LETTERS[sheet.layout].map((letter) => (
        <ChannelRow
          key={letter}
          sheet={sheet}
          letter={letter}
          onSet={(source) => set({ [letter]: source })}
          onDropped={(what) => void dropped(what, letter)}
        />
      ))}
    </Inset>
  );
}

interface SheetMenuProps {
  sheet: Sheet;
  renaming: boolean;
  onRenaming: (on: boolean) => void;
}

function SheetMenu({ sheet, renaming, onRenaming }: SheetMenuProps) {
  const edit = useDocument((store) => store.edit);
  return (
    <>
      <MoreMenu
        label={`More for ${sheet.name}`}
        actions={[
          { label: "Rename…", act: () => onRenaming(true) },
          { label: "Delete", act: () => void edit([{ op: "delete_sheet", sheet: sheet.id }]), danger: true },
        ]}
      />
      <NameDialog
        open={renaming}
        title={`Rename ${sheet.name}`}
        suggestion={sheet.name}
        action="Rename"
        onClose={() => onRenaming(false)}
        onName={(name) => void edit([{ op: "set_sheet", sheet: { ...sheet, name } }])}
      />
    </>
  );
}
