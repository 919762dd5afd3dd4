import { Box } from "@mui/material";

/** Names and colours of what a map tells apart. */
export function KeyBox({ keys }: { keys: { name: string; colour: string }[] }) {
  return (
    <Box
      data-testid="keys"
      sx={{ bgcolor: "background.paper", borderRadius: 1.2, px: 1.2, py: 0.8, maxHeight: 260, overflow: "hidden" }}
    >
      {keys.map((item, i) => (
        <Box key={item.name} sx={{ display: "flex", alignItems: "center", gap: 0.8, fontSize: 12, lineHeight: 1.7 }}>
          <Box sx={{ width: 12, height: 12, borderRadius: 0.5, bgcolor: item.colour, flexShrink: 0 }} />
          {i} {item.name}
        </Box>
      ))}
    </Box>
  );
}
