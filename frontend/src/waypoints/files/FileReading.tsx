import { Box, Typography } from "@mui/material";
import { ask, client, sentence, type Schemas } from "../../api/client";
import type { Inspection } from "../../api/types";
import { titleOf, useFormats } from "../../document/formats";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { Segments } from "../../kit/Segments";
import { trim } from "../../kit/numbers";

/** How a file is read, as the server wants to be told. */
export function layoutOf(found: Inspection): Schemas["FileLayout"] {
  const { asset, name, rows, columns, byte_order, header, sample, channel, code, nodata } = found;
  const raw = found.format === "raw" ? { rows, columns, byte_order, sample } : {};
  return { asset, name, header, channel, code, nodata, ...raw };
}

export function InspectionLine({ found }: { found: Inspection }) {
  const title = titleOf(useFormats(), found.format);
  return (
    <Typography variant="body2" sx={{ mb: 1 }} data-testid="inspection">
      <b>{found.name}</b> · {title} {found.depth} · {trim(found.columns)} × {trim(found.rows)} · {trim(found.low)} to{" "}
      {trim(found.high)} stored · {trim(found.levels)} levels
      {found.placement && ` · ${found.placement.says}`}
    </Typography>
  );
}

interface FileReadingProps {
  found: Inspection;
  onFound: (found: Inspection) => void;
  onTrouble: (trouble: string | null) => void;
}

/** What the file does not say itself, as choices; each reads it again. */
export function FileReading({ found, onFound, onTrouble }: FileReadingProps) {
  const again = async (part: Partial<Schemas["FileLayout"]>) => {
    onTrouble(null);
    try {
      onFound(await ask(client.POST("/api/heightmaps/again", { body: { ...layoutOf(found), ...part } })));
      return true;
    } catch (error) {
      onTrouble(sentence(error));
      return false;
    }
  };
  const raw = found.format === "raw";
  const row = { display: "flex", alignItems: "center", gap: 1.5, mb: 1, flexWrap: "wrap" } as const;
  return (
    <>
      {raw && (
        <Box sx={row}>
          <Typography variant="body2">Samples</Typography>
          <ChoiceToken
            label="Sample type"
            value={found.sample ?? "u16"}
            choices={[
              { value: "u8", label: "8 bits" },
              { value: "u16", label: "16 bits" },
              { value: "i16", label: "16 bits, signed" },
              { value: "f32", label: "32-bit float" },
            ]}
            onChange={(sample) =>
              void again({ sample: sample as NonNullable<Inspection["sample"]>, rows: null, columns: null })
            }
          />
          <span>
            after{" "}
            <NumberToken
              label="Bytes to skip"
              value={found.header}
              unit="bytes"
              min={0}
              max={1_000_000}
              step={1}
              decimals={0}
              onCommit={(header) => again({ header })}
            />
          </span>
          {found.byte_order && (
            <Segments
              label="Byte order"
              options={[
                { value: "little", label: "little endian" },
                { value: "big", label: "big endian" },
              ]}
              value={found.byte_order}
              onChange={(order) => void again({ byte_order: order })}
            />
          )}
        </Box>
      )}
      {found.sizes.length > 1 && (
        <Box sx={row}>
          <Typography variant="body2">Columns × rows</Typography>
          <ChoiceToken
            label="Columns and rows"
            value={`${found.columns}x${found.rows}`}
            choices={found.sizes.map((size) => ({
              value: `${size.columns}x${size.rows}`,
              label: `${size.columns} × ${size.rows}`,
            }))}
            onChange={(text) => {
              const [columns = 0, rows = 0] = text.split("x").map(Number);
              void again({ rows, columns });
            }}
          />
        </Box>
      )}
      {found.channels.length > 1 && (
        <Box sx={row}>
          <Typography variant="body2">Heights from the channel</Typography>
          <ChoiceToken
            label="Channel"
            value={found.channel ?? ""}
            choices={found.channels.map((name) => ({ value: name, label: name }))}
            onChange={(channel) => void again({ channel })}
          />
        </Box>
      )}
      {found.code && (
        <Box sx={row}>
          <Typography variant="body2">Three bytes stand for</Typography>
          <ChoiceToken
            label="How colours stand for heights"
            value={found.code}
            choices={[
              { value: "tenths", label: "tenths of a metre above −10 000 m" },
              { value: "metres256", label: "metres and 256ths about 0" },
            ]}
            onChange={(code) => void again({ code: code as NonNullable<Inspection["code"]> })}
          />
        </Box>
      )}
      {found.format !== "png" && (
        <Box sx={row}>
          <Typography variant="body2">
            {found.nodata === null ? "No stored value stands for \u201cno height\u201d." : "No height where it stores"}
          </Typography>
          <NumberToken
            label="No-data value"
            value={found.nodata ?? found.low}
            unit=""
            min={-1e9}
            max={1e9}
            step={1}
            decimals={2}
            onCommit={(nodata) => again({ nodata })}
          />
        </Box>
      )}
    </>
  );
}
