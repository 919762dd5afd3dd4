import { Box, Button, Typography } from "@mui/material";
import type { Plan } from "../../api/types";
import { useDocument, useProject } from "../../document/document";
import { usePlan } from "../../document/queries";
import { Heading } from "../../kit/Card";
import { MONO } from "../../kit/theme";
import { SideToken } from "./SideToken";

type Kind = Plan["kinds"][number];

/** How large each kind of map is: as the target has it, or, where it leaves that free, a size of its own. */
export function KindSizes() {
  const plan = usePlan();
  const { delivery } = useProject().document;
  const edit = useDocument((store) => store.edit);
  const put = (kind: Kind["kind"], size: { rows: number; cols: number } | null) => {
    const others = delivery.sizes.filter((item) => item.kind !== kind);
    const sizes = size ? [...others, { kind, ...size }] : others;
    return edit([{ op: "set_delivery", delivery: { ...delivery, sizes } }]);
  };
  return (
    <>
      <Heading>Other maps</Heading>
      {plan.data?.kinds.map((item) => (
        <Box
          key={item.kind}
          role="group"
          aria-label={`Size of ${item.title}`}
          sx={{
            display: "grid",
            gridTemplateColumns: "170px 1fr auto",
            gap: 1,
            alignItems: "baseline",
            fontSize: 13,
            minHeight: 34,
          }}
        >
          <span>{item.title}</span>
          {item.free ? (
            <div>
              <Side item={item} side="cols" label="Columns" put={put} />×{" "}
              <Side item={item} side="rows" label="Rows" put={put} />
            </div>
          ) : (
            <div>
              <Box component="span" sx={{ fontFamily: MONO }}>
                {item.cols} × {item.rows}
              </Box>{" "}
              <Typography variant="caption" color="textSecondary">
                {item.says}
              </Typography>
            </div>
          )}
          {item.own && (
            <Button size="small" color="inherit" onClick={() => void put(item.kind, null)}>
              as the target has it
            </Button>
          )}
        </Box>
      ))}
    </>
  );
}

interface SideProps {
  item: Kind;
  side: "rows" | "cols";
  label: string;
  put: (kind: Kind["kind"], size: { rows: number; cols: number }) => Promise<boolean>;
}

function Side({ item, side, label, put }: SideProps) {
  return (
    <SideToken
      label={`${label} of ${item.title}`}
      value={item[side]}
      onCommit={(samples) => put(item.kind, { rows: item.rows, cols: item.cols, [side]: samples })}
    />
  );
}
