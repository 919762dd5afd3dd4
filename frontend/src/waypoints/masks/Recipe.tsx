import { named } from "../../api/mapNames";
import { OwnFileMark, OwnFileToken } from "../files/OwnFileMark";
import { Box, Button, ButtonBase, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { useFinals, useStats } from "../../document/queries";
import type { Mask } from "../../api/types";
import { Heading } from "../../kit/Card";
import { useProject } from "../../document/document";
import { useTools } from "../../viewport/tools";
import { useViewParts } from "../../viewport/view";
import { MapThumb } from "../../viewport/MapThumb";
import { maskHolder } from "../../document/holder";
import { LineCard } from "../recipe/LineCard";
import { MaskMenu } from "./MaskMenu";
import { PointPanel } from "./PointPanel";
import { Result } from "./Result";
import { SeveralBar } from "./SeveralBar";
import { TakeBack } from "./TakeBack";
import { ThenMenu } from "../recipe/ThenMenu";
import { Together } from "./Together";
import { AskButton, WhyMask } from "../recipe/WhyMask";
import { roles } from "../../kit/theme";

interface RecipeProps {
  together: boolean;
  onTogether: (on: boolean) => void;
  onNew: () => void;
}

/** The masks as pictures, and the chosen one as sentences. */
export function Recipe({ together, onTogether, onNew }: RecipeProps) {
  const { document } = useProject();
  const { selectedMask, selectedLine, subject, show, set } = useViewParts(
    "selectedMask",
    "selectedLine",
    "subject",
    "show",
    "set",
  );
  const [side, setSide] = useState<{ kind: "point" | "back"; mask: string } | null>(null);
  const mask = document.masks.find((item) => item.id === selectedMask) ?? document.masks[0] ?? null;
  const line = mask?.lines.find((item) => item.id === selectedLine) ?? mask?.lines[0] ?? null;
  const lineIndex = mask && line ? mask.lines.indexOf(line) : null;
  const style = subject.kind === "mask" ? subject.style : "over";
  const base = subject.kind === "mask" ? (subject.base ?? "shade") : "shade";
  const [several, setSeveral] = useState<{ mask: string; chosen: Set<string> } | null>(null);
  const picking = several && several.mask === mask?.id ? several.chosen : null;
  const maskId = mask?.id ?? null;
  const open = side?.mask === maskId ? side.kind : null;
  const [renaming, setRenaming] = useState<string | null>(null);

  // The view follows the chosen mask and line, unless masks are looked at together.
  useEffect(() => {
    if (together) return;
    if (maskId) show({ kind: "mask", id: maskId, style, lines: lineIndex, base });
    else show({ kind: "ground", style: "shade" });
    // What else is looked at (a band, the final size) stays until another mask or line is chosen.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [maskId, lineIndex, show, together]);

  const choose = (id: string) => {
    onTogether(false);
    setSide(null);
    useTools.getState().take(null);
    set({ selectedMask: id, selectedLine: null });
    const lines = document.masks.find((item) => item.id === id)?.lines.length ? 0 : null;
    show({ kind: "mask", id, style: style === "wipe" ? "over" : style, lines, base });
  };
  if (!mask)
    return (
      <Typography component="div" color="textSecondary" sx={{ mt: 2 }}>
        No masks yet. A mask is a recipe of sentences, such as “take ground where slope is 32° to 90°”.{" "}
        <Button size="small" onClick={onNew}>
          Make one
        </Button>{" "}
        or take a kit to begin with.
      </Typography>
    );
  return (
    <>
      <Box
        component="ul"
        aria-label="Masks"
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(4, minmax(0, 1fr))",
          gap: 1,
          p: 0,
          m: 0,
          mt: 1,
          listStyle: "none",
        }}
      >
        {document.masks.map((item) => (
          <MaskTile
            key={item.id}
            mask={item}
            chosen={item === mask}
            onChoose={() => choose(item.id)}
            onRename={() => setRenaming(item.id)}
          />
        ))}
      </Box>
      {together && <Together onDone={() => onTogether(false)} />}
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between", mt: 1 }}>
        <Heading>
          <span title="Double click to rename" onDoubleClick={() => setRenaming(mask.id)}>
            {mask.name}
          </span>
          <OwnFileMark of={named.mask(mask.id)} />
        </Heading>
        <Box sx={{ flex: 1 }} />
        <AskButton />
        <MaskMenu
          mask={mask}
          renaming={renaming === mask.id}
          onRenaming={(on) => setRenaming(on ? mask.id : null)}
          onTakeBack={() => setSide({ kind: "back", mask: mask.id })}
          onSeveral={() => setSeveral({ mask: mask.id, chosen: new Set() })}
        />
      </Box>
      {open === "back" && <TakeBack mask={mask} onDone={() => setSide(null)} />}
      <WhyMask mask={mask} />
      {picking && (
        <SeveralBar
          mask={mask}
          chosen={picking}
          onChosen={(chosen) => setSeveral({ mask: mask.id, chosen })}
          onDone={() => setSeveral(null)}
        />
      )}
      <Box sx={{ fontSize: 13 }}>
        <OwnFileToken of={named.mask(mask.id)} title={mask.name} />
      </Box>
      <Box component="ol" aria-label={`Recipe of ${mask.name}`} sx={{ p: 0, m: 0 }}>
        {mask.lines.map((item, index) => (
          <LineCard
            key={item.id}
            holder={maskHolder(mask)}
            line={item}
            index={index}
            chosen={item === line}
            onChoose={() => set({ selectedLine: item.id })}
            ticked={picking ? picking.has(item.id) : null}
            onTick={(on) => {
              if (!picking) return;
              const next = new Set(picking);
              if (on) next.add(item.id);
              else next.delete(item.id);
              setSeveral({ mask: mask.id, chosen: next });
            }}
          />
        ))}
      </Box>
      {open === "point" ? (
        <PointPanel key={mask.id} mask={mask} onDone={() => setSide(null)} />
      ) : (
        <ThenMenu holder={maskHolder(mask)} onPoint={() => setSide({ kind: "point", mask: mask.id })} />
      )}
      <Result mask={mask} />
    </>
  );
}

interface MaskTileProps {
  mask: Mask;
  chosen: boolean;
  onChoose: () => void;
  onRename: () => void;
}

function MaskTile({ mask, chosen, onChoose, onRename }: MaskTileProps) {
  const stats = useStats(named.mask(mask.id));
  const { mask_keys: keys } = useProject();
  const differs = useFinals().data?.masks.some(
    (entry) => entry.mask === mask.id && entry.key === keys[mask.id] && entry.places.length > 0,
  );
  const share = stats.data ? `${(stats.data.mean * 100).toFixed(0)} %` : "…";
  return (
    <Box component="li">
      <ButtonBase
        onClick={onChoose}
        onDoubleClick={onRename}
        aria-pressed={chosen}
        sx={{
          display: "block",
          width: "100%",
          textAlign: "left",
          borderRadius: 1.2,
          p: "2px",
          fontFamily: "inherit",
          outline: chosen ? `2px solid ${roles.gentian}` : "2px solid transparent",
          "&:focus-visible": { outline: `2px dashed ${roles.gentian}` },
        }}
      >
        <MapThumb subject={{ kind: "mask", id: mask.id, style: "alone", lines: null }} width="100%" height={54} lazy />
        <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 11.5, gap: 0.5, mt: 0.3 }}>
          <Box component="span" sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
            {differs && (
              <Box component="b" title="Looks different at the delivered size" sx={{ color: roles.amber, mr: 0.4 }}>
                ≠
              </Box>
            )}
            {mask.name}
          </Box>
          <Box component="span" sx={{ color: "text.secondary", whiteSpace: "nowrap" }}>
            <OwnFileMark of={named.mask(mask.id)} /> {share}
          </Box>
        </Box>
      </ButtonBase>
    </Box>
  );
}
