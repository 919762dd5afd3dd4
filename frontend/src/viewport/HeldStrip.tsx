import { Box, Button, ButtonBase, IconButton, Tooltip, Typography } from "@mui/material";
import PinIcon from "@mui/icons-material/PushPinOutlined";
import CloseIcon from "@mui/icons-material/Close";
import { memo } from "react";
import { useReadings } from "../document/queries";
import { useProject } from "../document/document";
import { useViewParts } from "./view";
import type { Subject } from "./subjects/subject";
import { MapThumb } from "./MapThumb";
import { exists, title } from "./subjects/register";
import { roles } from "../kit/theme";

/** Up to four views that stay in reach while something else is edited; they keep up with the project. */
export const HeldStrip = memo(function HeldStrip() {
  const state = useProject();
  const readings = useReadings();
  const { held, subject, compare, pinned, show, set, letGo } = useViewParts(
    "held",
    "subject",
    "compare",
    "pinned",
    "show",
    "set",
    "letGo",
  );
  const isPinned = (item: Subject) => pinned !== null && JSON.stringify(item) === JSON.stringify(pinned);
  const now = JSON.stringify(subject);
  if (held.length === 0)
    return (
      <Box sx={{ px: 2, py: 1 }}>
        <Typography variant="caption" color="textSecondary">
          Nothing held. Hold a view to keep it here while you edit something else, and pin it to see it change while you
          drag.
        </Typography>
      </Box>
    );
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, pr: 1.5 }}>
      <Box
        component="ul"
        aria-label="Held views"
        sx={{ display: "flex", gap: 1.5, px: 1.5, py: 1, m: 0, listStyle: "none" }}
      >
        {held.map((item, index) => {
          const there = exists(item, state);
          const [name, how] = there ? title(item, state, readings) : ["Gone", "deleted"];
          const chosen = JSON.stringify(item) === now;
          return (
            <Box component="li" key={JSON.stringify(item)} sx={{ position: "relative", width: 84 }}>
              <ButtonBase
                disabled={!there}
                aria-label={`Show ${name}, ${how}`}
                onClick={() => show(item)}
                sx={{
                  display: "block",
                  textAlign: "left",
                  borderRadius: 1.2,
                  outline: chosen ? `2px solid ${roles.gentian}` : "none",
                  outlineOffset: 2,
                }}
              >
                {there ? <MapThumb subject={item} width={84} height={52} /> : <Box sx={{ width: 84, height: 52 }} />}
                <Typography variant="caption" noWrap sx={{ display: "block" }}>
                  {name}
                </Typography>
              </ButtonBase>
              <Tooltip title={isPinned(item) ? "Unpin" : "Pin: painted anew while you drag"}>
                <span>
                  <IconButton
                    size="small"
                    disabled={!there}
                    aria-label={`Pin ${name}`}
                    aria-pressed={isPinned(item)}
                    color={isPinned(item) ? "secondary" : "default"}
                    onClick={() => set({ pinned: isPinned(item) ? null : item })}
                    sx={{
                      position: "absolute",
                      top: 2,
                      left: 2,
                      width: 24,
                      height: 24,
                      bgcolor: "background.paper",
                      "&:hover": { bgcolor: "background.paper" },
                    }}
                  >
                    <PinIcon sx={{ fontSize: 15 }} />
                  </IconButton>
                </span>
              </Tooltip>
              <IconButton
                size="small"
                aria-label={`Let go of ${name}`}
                onClick={() => letGo(index)}
                sx={{
                  position: "absolute",
                  top: 2,
                  right: 2,
                  width: 24,
                  height: 24,
                  bgcolor: "background.paper",
                  "&:hover": { bgcolor: "background.paper" },
                }}
              >
                <CloseIcon sx={{ fontSize: 14 }} />
              </IconButton>
            </Box>
          );
        })}
      </Box>
      <Box sx={{ ml: "auto", display: "flex", gap: 1 }}>
        <Tooltip title={compare === "beside" ? "One view again" : "The held views beside this one, moving together"}>
          <Button
            variant="outlined"
            color={compare === "beside" ? "secondary" : "inherit"}
            aria-pressed={compare === "beside"}
            onClick={() => set({ compare: compare === "beside" ? "off" : "beside" })}
          >
            Compare
          </Button>
        </Tooltip>
        <Tooltip
          title={compare === "wipe" ? "One view again" : "The first held view on the left, this one on the right"}
        >
          <Button
            variant="outlined"
            color={compare === "wipe" ? "secondary" : "inherit"}
            aria-pressed={compare === "wipe"}
            onClick={() => set({ compare: compare === "wipe" ? "off" : "wipe" })}
          >
            Wipe
          </Button>
        </Tooltip>
      </Box>
    </Box>
  );
});
