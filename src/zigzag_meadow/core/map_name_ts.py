"""The names of maps for the pages, as TypeScript: ``python -m zigzag_meadow.core.map_name_ts``."""

from __future__ import annotations

from zigzag_meadow.core.map_name import every_kind

__all__ = ["map_names_ts"]


def map_names_ts() -> str:
    """TypeScript: the union, how each kind is written, and how text is read."""
    kinds = every_kind()
    union, parts, makers = [], [], []
    for kind, told in kinds.items():
        typed = [f"{name}{'?' if maybe else ''}: {ts}" for name, ts, maybe in told]
        union.append(f"  | {{ {'; '.join([f'kind: {_quoted(kind)}', *typed])} }}")
        parts.append(f"  {kind}: [{', '.join(_quoted(name + '?' * maybe) for name, _, maybe in told)}],")
        gives = ", ".join(name for name, _, _ in told)
        makers.append(f"  {kind}: ({', '.join(typed)}) => written({_quoted(kind)}, [{gives}]),")
    return _TS.format(
        union="\n".join(union),
        parts="\n".join(parts),
        makers="\n".join(makers),
        numbers=_of_type(kinds, "number"),
        lists=_of_type(kinds, "string[]"),
    )


def _quoted(text: str) -> str:
    return f'"{text}"'


def _of_type(kinds: dict[str, list[tuple[str, str, bool]]], wanted: str) -> str:
    names = {name for told in kinds.values() for name, ts, _ in told if ts == wanted}
    return ", ".join(_quoted(name) for name in sorted(names))


_TS = """// Made of the core's names of maps by `make types`.

/** A map by its name. */
export type MapName =
{union};

declare const isMap: unique symbol;
/** A name as text: made here alone. */
export type MapText = string & {{ readonly [isMap]: true }};

/** The parts of each kind of name, in order; those with a question mark may be left out. */
const PARTS: Record<MapName["kind"], string[]> = {{
{parts}
}};
const NUMBERS = [{numbers}];
const LISTS = [{lists}];

const told = (part: unknown) => (Array.isArray(part) ? part.join("+") : part === true ? "otherwise" : String(part));
const written = (kind: MapName["kind"], parts: unknown[]) =>
  [kind, ...parts.filter((part) => part !== undefined && part !== null).map(told)].join(":") as MapText;

/** The text of a map's name, by its kind. */
export const named = {{
{makers}
}};

/** The name that a text writes, as the core reads it; null for what is none. */
export function readName(text: string): MapName | null {{
  const [kind = "", ...values] = text.split(":");
  const parts = PARTS[kind as MapName["kind"]] as string[] | undefined;
  if (!parts || values.length > parts.length || parts.slice(values.length).some((part) => !part.endsWith("?")))
    return null;
  const read = values.map((value, at) => {{
    const name = (parts[at] ?? "").replace("?", "");
    const plain = name === "otherwise" ? true : value;
    return [name, NUMBERS.includes(name) ? Number(value) : LISTS.includes(name) ? value.split("+") : plain];
  }});
  return {{ kind, ...Object.fromEntries(read) }} as MapName;
}}
"""


if __name__ == "__main__":
    print(map_names_ts(), end="")
