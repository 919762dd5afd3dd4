import { Box, ButtonBase, Typography } from "@mui/material";
import CheckIcon from "@mui/icons-material/Check";
import PriorityHighIcon from "@mui/icons-material/PriorityHigh";
import type { Delivery, Fit, FitMap } from "../../api/types";
import { useViewParts } from "../../viewport/view";
import { roles } from "../../kit/theme";
import { fitSubject } from "./subject";

/** Every map with its state; the one that is looked at is chosen. */
export function MapsList({ fit, delivery }: { fit: Fit; delivery: Delivery }) {
  const { subject, show } = useViewParts("subject", "show");
  const chosen = subject.kind === "fit" ? subject.map : null;
  const style = subject.kind === "fit" ? subject.style : "difference";
  return (
    <Box role="list" aria-label="Maps read back">
      {(fit.maps ?? []).map((map) => {
        const target = fitSubject(delivery, map, style);
        return (
          <Box role="listitem" key={map.of}>
            <ButtonBase
              disabled={!target}
              aria-pressed={target !== null && map.shown === chosen}
              onClick={() => target && show(target)}
              sx={{
                display: "grid",
                gridTemplateColumns: "20px 1fr",
                columnGap: 0.8,
                width: "100%",
                textAlign: "left",
                px: 0.8,
                py: 0.5,
                borderRadius: 1,
                border: "2px solid transparent",
                borderColor: map.shown !== "" && map.shown === chosen ? roles.gentian : "transparent",
                "&:focus-visible": { outline: `2px solid ${roles.gentian}`, outlineOffset: 1 },
              }}
            >
              <Sign map={map} />
              <Box sx={{ minWidth: 0 }}>
                <Typography variant="body2" sx={{ fontWeight: 650 }}>
                  {map.title}
                  <Typography component="span" variant="caption" color="textSecondary">
                    {" "}
                    · {map.files.length > 1 ? `${map.files.length} files` : map.files[0]}
                  </Typography>
                </Typography>
                <Typography
                  variant="caption"
                  component="div"
                  color={map.state === "wrong" || map.state === "unread" ? "warning" : "textSecondary"}
                >
                  {map.words}
                </Typography>
              </Box>
            </ButtonBase>
          </Box>
        );
      })}
    </Box>
  );
}

function Sign({ map }: { map: FitMap }) {
  const good = map.state === "exact" || map.state === "unchanged";
  return good ? (
    <CheckIcon sx={{ fontSize: 16, mt: 0.3 }} aria-label="as meant" />
  ) : (
    <PriorityHighIcon color="warning" sx={{ fontSize: 16, mt: 0.3 }} aria-label="does not fit" />
  );
}
