import { Box, ButtonBase, Typography } from "@mui/material";
import type { Target } from "../../api/types";
import { roles } from "../../kit/theme";

interface TargetListProps {
  all: Target[];
  /** The one that is delivered to. */
  now: string;
  shown: string | undefined;
  onPick: (id: string) => void;
}

/** Targets by title, the project's own marked. */
export function TargetList({ all, now, shown, onPick }: TargetListProps) {
  return (
    <Box role="listbox" aria-label="Targets">
      {all.map((item) => (
        <ButtonBase
          key={item.id}
          role="option"
          aria-selected={item.id === shown}
          onClick={() => onPick(item.id)}
          sx={{
            display: "block",
            width: "100%",
            textAlign: "left",
            fontFamily: "inherit",
            fontSize: 14,
            fontWeight: 600,
            p: 1,
            minHeight: 34,
            borderRadius: 1,
            bgcolor: item.id === shown ? roles.gentianWash : "transparent",
            "&:focus-visible": { outline: `2px solid ${roles.gentian}` },
          }}
        >
          {item.title}
          {item.id === now && " ✓"}
          {item.own && (
            <Typography variant="caption" color="textSecondary" component="span">
              {" "}
              · own
            </Typography>
          )}
        </ButtonBase>
      ))}
    </Box>
  );
}

/** What a target says of itself, rule by rule. */
export function AboutTarget({ target }: { target: Target }) {
  return (
    <>
      <Typography variant="h3">{target.title}</Typography>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        {target.sentence}
      </Typography>
      <Box
        component="dl"
        sx={{ m: 0, display: "grid", gridTemplateColumns: "90px 1fr", gap: "4px 12px", fontSize: 13 }}
      >
        {target.sentences.map(({ title, sentence }) => (
          <Box key={title} sx={{ display: "contents" }}>
            <Box component="dt" sx={{ color: "text.secondary" }}>
              {title}
            </Box>
            <Box component="dd" sx={{ m: 0 }}>
              {sentence}
            </Box>
          </Box>
        ))}
      </Box>
    </>
  );
}
