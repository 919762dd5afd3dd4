import { IconButton } from "@mui/material";
import CloseIcon from "@mui/icons-material/Close";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { RuleSentence } from "./RuleSentence";
import { Row, type RowProps } from "./TargetRows";

type OwnSize = RowProps["rules"]["sizes_of"][number];

/** Kinds of maps with a size that is not their group's. */
export function KindsRow({ rules, kinds, set }: RowProps) {
  const put = (sizes_of: OwnSize[]) => set({ sizes_of });
  const left = kinds.size_kinds.filter((item) => rules.sizes_of.every((own) => own.kind !== item.value));
  const title = (own: OwnSize) => kinds.size_kinds.find((item) => item.value === own.kind)?.label ?? own.kind;
  return (
    <Row title="Own sizes">
      {rules.sizes_of.map((own, at) => (
        <div key={own.kind}>
          {title(own)}:{" "}
          <RuleSentence
            label={`Size of ${title(own)}`}
            value={own.size}
            kinds={kinds.places["map_size"] ?? []}
            onChange={(size) =>
              put(rules.sizes_of.map((other, k) => (k === at ? { ...own, size: size as OwnSize["size"] } : other)))
            }
          />
          <IconButton
            size="small"
            aria-label={`Size of ${title(own)} as its group has it`}
            onClick={() => put(rules.sizes_of.filter((_, k) => k !== at))}
          >
            <CloseIcon sx={{ fontSize: 16 }} />
          </IconButton>
        </div>
      ))}
      {left.length > 0 && (
        <ChoiceToken
          label="One more kind of map with a size of its own"
          value=""
          text="one more kind"
          choices={left}
          onChange={(kind) => put([...rules.sizes_of, { kind: kind as OwnSize["kind"], size: { kind: "free" } }])}
        />
      )}
    </Row>
  );
}
