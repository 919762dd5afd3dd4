import { Checkbox, Menu, MenuItem } from "@mui/material";
import { useState } from "react";
import { TokenButton, type Choice } from "../../kit/ChoiceToken";

interface FormsProps {
  label: string;
  value: readonly string[];
  forms: Choice[];
  none?: string;
  onChange: (value: string[]) => void;
}

const SHOWN = 4;

/** Several of a list, in the order in which they were taken: the first is what is used unless another is chosen. */
export function FormsToken({ label, value, forms, none = "nothing yet", onChange }: FormsProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const title = (id: string) => forms.find((item) => item.value === id)?.label ?? id;
  const many = value.length > SHOWN + 1 ? ` and ${value.length - SHOWN} more` : "";
  const text = value.length ? (many ? value.slice(0, SHOWN) : value).map(title).join(", ") + many : none;
  return (
    <>
      <TokenButton label={`${label}: ${text}`} text={text} onOpen={setAnchor} />
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, "aria-label": label } }}
      >
        {forms.map((item) => (
          <MenuItem
            key={item.value}
            onClick={() =>
              onChange(value.includes(item.value) ? value.filter((id) => id !== item.value) : [...value, item.value])
            }
          >
            <Checkbox size="small" checked={value.includes(item.value)} sx={{ p: 0.3, mr: 0.5 }} tabIndex={-1} />
            {item.label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
