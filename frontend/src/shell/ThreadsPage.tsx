import { Box, Typography } from "@mui/material";

/** Its name in the address. */
export const THREADS = "threads";

/** Says what this overview will be; nothing here pretends to work. */
export function ThreadsPage() {
  return (
    <Box component="section" aria-label="Threads" sx={{ p: 4, maxWidth: 760, gridColumn: "2 / -1" }}>
      <Typography variant="h1">Threads</Typography>
      <Typography sx={{ mt: 2 }}>
        Here every map will be a row: from the readings it uses through mask, weight, coat, channel and file to its fit,
        each step a live picture that opens its waypoint. It will show what ends nowhere and what is fed by nothing.
      </Typography>
      <Typography sx={{ mt: 2 }}>
        Until then, the foot of the Masks card says where a mask goes, and Packing says which channels are empty.
      </Typography>
    </Box>
  );
}
