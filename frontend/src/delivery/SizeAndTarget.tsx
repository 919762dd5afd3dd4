import { MenuItem, TextField, Typography } from "@mui/material";
import { useTargets } from "../api/queries";
import { Heading } from "../parts/Card";
import { useDocument, useProject } from "../state/document";
import { trim } from "../viewport/subjects";

/** Where it goes, and at which of the sizes that are taken there. */
export function SizeAndTarget() {
  const { document, home } = useProject();
  const edit = useDocument((store) => store.edit);
  const targets = useTargets();
  const { delivery } = document;
  const chosen = targets.data?.find((item) => item.id === delivery.target);
  const sizes = chosen?.sizes.map(({ rows, columns }) => ({ rows, cols: columns })) ?? [];
  const now = `${delivery.cols}x${delivery.rows}`;
  const known = sizes.some((size) => `${size.cols}x${size.rows}` === now);
  const choose = (text: string) => {
    const [cols, rows] = text.split("x").map(Number);
    if (cols && rows) void edit([{ op: "set_delivery", delivery: { ...delivery, rows, cols } }]);
  };
  return (
    <>
      <Heading>{chosen?.title ?? "Target"}</Heading>
      <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 0 }}>
        {chosen?.sentence}
      </Typography>
      <TextField
        select
        fullWidth
        label="Size, columns × rows"
        value={now}
        onChange={(event) => choose(event.target.value)}
        slotProps={{ select: { MenuProps: { slotProps: { paper: { sx: { maxHeight: 340 } } } } } }}
        sx={{ mt: 1.5 }}
      >
        {!known && <MenuItem value={now}>{`${delivery.cols} × ${delivery.rows}`} · not legal here</MenuItem>}
        {sizes.map((size) => (
          <MenuItem key={`${size.cols}x${size.rows}`} value={`${size.cols}x${size.rows}`}>
            {size.cols} × {size.rows}
            <Typography component="span" variant="caption" color="textSecondary" sx={{ ml: 1 }}>
              {size.cols === home.cols && size.rows === home.rows
                ? "the ground's own"
                : `${trim(home.width / (size.cols - 1), 3)} m apart`}
            </Typography>
          </MenuItem>
        ))}
      </TextField>
    </>
  );
}
