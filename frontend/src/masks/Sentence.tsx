import { Fragment } from "react";
import { useVerbs } from "../api/queries";
import type { Line, LineParam, Mask, Source } from "../api/types";
import { ChoiceToken } from "../parts/ChoiceToken";
import { NumberToken } from "../parts/NumberToken";
import { useProject } from "../state/document";
import { parts } from "./lines";
import { PieceTokens } from "./PieceTokens";
import { SourceTokens } from "./SourceTokens";
import type { Tell } from "./tell";

interface SentenceProps {
  line: Line;
  mask: Mask;
  tell: Tell;
}

const NONE: Record<string, string> = { steered: "everywhere alike", only: "everywhere" };

/** A line as the sentence that the catalogue gives it, with its numbers as tokens. */
export function Sentence({ line, mask, tell }: SentenceProps) {
  const info = useVerbs().find((item) => item.verb === line.verb);
  if (!info) return null;
  return (
    <span>
      {parts(info.sentence).map((part, i) => (
        <Fragment key={i}>
          {part.kind === "text" && part.text}
          {part.kind === "bold" && <b>{part.text}</b>}
          {part.kind === "token" && (
            <Token
              name={part.text}
              line={line}
              mask={mask}
              tell={tell}
              param={info.params.find((item) => item.name === part.text)}
            />
          )}
        </Fragment>
      ))}
    </span>
  );
}

interface TokenProps extends SentenceProps {
  name: string;
  param: LineParam | undefined;
}

const SOURCES = ["source", "by", "steered", "only"];

function Token({ name, param, line, mask, tell }: TokenProps) {
  const values = line as unknown as Record<string, unknown>;
  const changed = (value: unknown) => ({ ...line, [name]: value }) as unknown as Line;
  if (param) return <ParamToken param={param} line={line} tell={tell} />;
  if (SOURCES.includes(name)) {
    const label = {
      source: "What is read",
      by: "What it is blended by",
      steered: "What steers it",
      only: "Only where",
    };
    return (
      <>
        {name === "only" && values[name] ? "only where: " : ""}
        <SourceTokens
          source={(values[name] as Source | null | undefined) ?? null}
          mask={mask}
          label={label[name as keyof typeof label]}
          {...(NONE[name] ? { none: NONE[name] } : {})}
          onPreview={(next) => tell.preview(next && changed(next))}
          onCommit={(next, key, field) => tell.commit(changed(next), key, `${name}.${field}`)}
        />
      </>
    );
  }
  if (name === "piece" && line.verb === "piece") return <PieceTokens line={line} tell={tell} />;
  if (name === "count" && line.verb === "touch_up") {
    const count = line.count ?? 0;
    return <b>{count === 0 ? "no strokes yet" : count === 1 ? "1 stroke" : `${count} strokes`}</b>;
  }
  if (name === "points" && line.verb === "bend") return <>with {line.points?.length ?? 4} points</>;
  if (name === "edges" && line.verb === "cut")
    return line.how === "own" ? <EdgeTokens line={line} tell={tell} /> : null;
  return null;
}

/** A number or choice of a line; shares are shown in hundredths. */
function ParamToken({ param, line, tell }: { param: LineParam; line: Line; tell: Tell }) {
  const values = line as unknown as Record<string, unknown>;
  const changed = (value: unknown) => ({ ...line, [param.name]: value }) as unknown as Line;
  if (param.choices.length > 0)
    return (
      <ChoiceToken
        label={param.title}
        value={String(values[param.name])}
        choices={param.choices}
        onChange={(value) => void tell.commit(withEdges(changed(value)), false, param.name)}
      />
    );
  const share = param.unit === "%";
  const times = share ? 100 : 1;
  const set = (v: number) => withEdges(changed(Number((v / times).toFixed(6))));
  return (
    <NumberToken
      label={param.title}
      value={Number((Number(values[param.name]) * times).toFixed(4))}
      unit={param.unit}
      min={param.low * times}
      max={param.high * times}
      step={param.step * times}
      decimals={share ? (param.step < 0.01 ? 1 : 0) : param.decimals}
      onPreview={(v) => tell.preview(v === null ? null : set(v))}
      onCommit={(v, key) => tell.commit(set(v), key, param.name)}
    />
  );
}

/** Own edges are as many as the bands need: even ones stand in for those that are missing. */
function withEdges(line: Line): Line {
  if (line.verb !== "cut" || line.how !== "own") return line;
  const count = Math.round(line.count ?? 5);
  if (line.edges?.length === count - 1) return line;
  return { ...line, edges: Array.from({ length: count - 1 }, (_, k) => Number(((k + 1) / count).toFixed(3))) };
}

function EdgeTokens({ line, tell }: { line: Extract<Line, { verb: "cut" }>; tell: Tell }) {
  const edges = line.edges ?? [];
  const moved = (index: number, value: number): Line => ({
    ...line,
    edges: edges.map((edge, i) => (i === index ? value : edge)),
  });
  return (
    <>
      {edges.map((edge, i) => (
        <NumberToken
          key={i}
          label={`Edge ${i + 1}`}
          value={edge}
          unit=""
          min={Number(((edges[i - 1] ?? -0.01) + 0.01).toFixed(3))}
          max={Number(((edges[i + 1] ?? 1.01) - 0.01).toFixed(3))}
          step={0.01}
          onPreview={(v) => tell.preview(v === null ? null : moved(i, v))}
          onCommit={(v, key) => tell.commit(moved(i, v), key, `edge${i}`)}
        />
      ))}
    </>
  );
}

/** Whether there is anything in the project that a line of this kind could use. */
export function usePossible(verb: string): boolean {
  const { document } = useProject();
  return verb !== "piece" || (document.pieces ?? []).length > 0;
}
