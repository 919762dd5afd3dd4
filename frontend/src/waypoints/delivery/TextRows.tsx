import { Box, Button, IconButton, TextField } from "@mui/material";
import CloseIcon from "@mui/icons-material/Close";
import { Heading } from "../../kit/Card";

type TextRow = Record<string, string | null | undefined>;

interface TextRowsProps {
  title: string;
  fields: [string, string][];
  /** What else stands in a row is kept as it is. */
  rows: TextRow[];
  onChange: (rows: TextRow[]) => void;
}

/** A list of short texts: settings with what they must be, or steps. */
export function TextRows({ title, fields, rows, onChange }: TextRowsProps) {
  return (
    <Box role="group" aria-label={title}>
      <Heading>{title}</Heading>
      {rows.map((row, at) => (
        <Box key={at} sx={{ display: "flex", gap: 0.6, mb: 0.8 }}>
          {fields.map(([name, label]) => (
            <TextField
              key={name}
              size="small"
              fullWidth
              label={label}
              value={row[name] ?? ""}
              onChange={(event) =>
                onChange(rows.map((other, k) => (k === at ? { ...other, [name]: event.target.value } : other)))
              }
            />
          ))}
          <IconButton
            size="small"
            aria-label={`Take ${title} ${at + 1} away`}
            onClick={() => onChange(rows.filter((_, k) => k !== at))}
          >
            <CloseIcon sx={{ fontSize: 17 }} />
          </IconButton>
        </Box>
      ))}
      <Button
        size="small"
        color="inherit"
        onClick={() => onChange([...rows, Object.fromEntries(fields.map(([name]) => [name, ""]))])}
      >
        One more
      </Button>
    </Box>
  );
}
