import { Box } from "@mui/material";
import type { Plan } from "../../api/types";
import { Heading } from "../../kit/Card";
import { MONO } from "../../kit/theme";

/** Numbers of the import note, to be read off and copied. */
export function NumbersToType({ plan }: { plan: Plan }) {
  return (
    <>
      <Heading aside="all of it is on the import note">To type in there</Heading>
      <Box component="dl" sx={{ m: 0, fontSize: 12.5 }}>
        {plan.numbers.map(({ title, value, why }) => (
          <Box key={title} sx={{ display: "flex", justifyContent: "space-between", gap: 1.5, py: 0.15 }} title={why}>
            <Box component="dt" sx={{ color: "text.secondary" }}>
              {title}
            </Box>
            <Box component="dd" sx={{ m: 0, fontFamily: MONO, textAlign: "right", userSelect: "all" }}>
              {value}
            </Box>
          </Box>
        ))}
      </Box>
    </>
  );
}
