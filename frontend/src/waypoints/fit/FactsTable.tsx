import { Box } from "@mui/material";
import CheckIcon from "@mui/icons-material/Check";
import PriorityHighIcon from "@mui/icons-material/PriorityHigh";
import type { Fit } from "../../api/types";
import { MONO } from "../../kit/theme";

/** What was measured, each with whether it is right. */
export function FactsTable({ fit }: { fit: Fit }) {
  return (
    <Box
      component="table"
      aria-label="What was measured"
      sx={{
        width: "100%",
        borderCollapse: "collapse",
        fontSize: 12.5,
        "& td": { borderTop: "1px dashed", borderColor: "divider", py: 0.6, pr: 1, verticalAlign: "baseline" },
      }}
    >
      <tbody>
        {fit.facts.map((fact) => (
          <tr key={fact.title + fact.detail}>
            <td style={{ width: 24 }}>
              {fact.good ? (
                <CheckIcon sx={{ fontSize: 16, verticalAlign: "-3px" }} aria-label="right" />
              ) : (
                <PriorityHighIcon color="warning" sx={{ fontSize: 16, verticalAlign: "-3px" }} aria-label="wrong" />
              )}
            </td>
            <td>
              <b>{fact.title}</b>
            </td>
            <Box component="td" sx={{ fontFamily: MONO, whiteSpace: "nowrap" }}>
              {fact.result}
            </Box>
            <td>{fact.detail}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
