import {
  Alert,
  Box,
  Button,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, sentence, type Schemas } from "../api/client";
import { ChoiceToken } from "../kit/ChoiceToken";
import { NumberToken } from "../kit/NumberToken";
import { TAB } from "../document/document";
import { trim } from "../kit/numbers";
import { SurveyMap, type Square } from "./SurveyMap";

export type Surveyed = Schemas["SurveyedOut"];
type Weather = Schemas["SquareIn"]["weather"];
type Practice = Schemas["SquareIn"]["practice"];

const WEATHERS: { value: NonNullable<Weather>; label: string }[] = [
  { value: "fair", label: "answers at once" },
  { value: "slow", label: "answers slowly" },
  { value: "patchy", label: "lacks some places" },
  { value: "busy", label: "often refuses at first" },
  { value: "closed", label: "is closed" },
];
const PRACTICES: { value: NonNullable<Practice>; label: string }[] = [
  { value: "right", label: "as it lies" },
  { value: "north_south", label: "north for south, for practice" },
  { value: "east_west", label: "east for west, for practice" },
  { value: "quarter", label: "turned by a quarter, for practice" },
  { value: "shifted", label: "shifted, for practice" },
];

interface SurveyDeskProps {
  onSurveyed: (found: Surveyed) => void;
  onBack: () => void;
}

/** The survey desk: choose a square of its world, get its heights and an aerial image. */
export function SurveyDesk({ onSurveyed, onBack }: SurveyDeskProps) {
  const world = useQuery({ queryKey: ["survey"], queryFn: () => ask(client.GET("/api/survey")), staleTime: Infinity });
  const [square, setSquare] = useState<Square>({ west: 52000, north: 61000, side: 8064 });
  const [samples, setSamples] = useState(1009);
  const [weather, setWeather] = useState<NonNullable<Weather>>("fair");
  const [practice, setPractice] = useState<NonNullable<Practice>>("right");
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const owner = `survey-${TAB}`;
  const working = useQuery({
    queryKey: ["working", owner],
    queryFn: () => ask(client.GET("/api/projects/{project_id}/working", { params: { path: { project_id: owner } } })),
    enabled: busy,
    refetchInterval: 400,
    gcTime: 0,
  });
  const task = busy ? working.data?.[0] : undefined;
  const get = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      const body = { tab: TAB, ...square, samples, weather, practice };
      onSurveyed(await ask(client.POST("/api/survey/squares", { body })));
    } catch (error) {
      setTrouble(sentence(error));
      setBusy(false);
    }
  };
  const stop = () =>
    void ask(
      client.POST("/api/projects/{project_id}/working/{key}/stop", {
        params: { path: { project_id: owner, key: task?.key ?? "" } },
      }),
    ).catch(() => undefined);
  const most = world.data?.side ?? 262144;
  const metres = (label: string, key: keyof Square, low: number, high: number) => (
    <NumberToken
      label={label}
      value={square[key]}
      unit="m"
      min={low}
      max={high}
      step={100}
      decimals={0}
      onCommit={(value) => {
        setSquare({ ...square, [key]: value });
        return Promise.resolve(true);
      }}
    />
  );
  return (
    <>
      <DialogTitle>The survey desk</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
          A made-up world, surveyed from above. Drag the map to move it, the frame to move the square, its corner to
          size it.
        </Typography>
        {world.data && <SurveyMap world={world.data} weather={weather} square={square} onSquare={setSquare} />}
        <Box sx={{ mt: 1, fontSize: 13.5, lineHeight: 2 }}>
          A square of {metres("Side of the square", "side", 100, most)} from{" "}
          {metres("West border of the square", "west", 0, most - square.side)} east and{" "}
          {metres("North border of the square", "north", 0, most - square.side)} south, with{" "}
          <NumberToken
            label="Samples across"
            value={samples}
            unit="samples"
            min={65}
            max={4097}
            step={1}
            decimals={0}
            onCommit={(value) => {
              setSamples(Math.round(value));
              return Promise.resolve(true);
            }}
          />{" "}
          across: {trim(square.side / (samples - 1), 3)} m apart. The aerial image comes{" "}
          <ChoiceToken
            label="How the aerial image comes"
            value={practice}
            choices={PRACTICES}
            onChange={(value) => setPractice(value as NonNullable<Practice>)}
          />
          . Today the desk{" "}
          <ChoiceToken
            label="How the desk answers"
            value={weather}
            choices={WEATHERS}
            onChange={(value) => setWeather(value as NonNullable<Weather>)}
          />
          .
        </Box>
        {busy && (
          <LinearProgress
            aria-label="Asking the survey desk"
            sx={{ mt: 1 }}
            {...(task ? { variant: "determinate", value: task.share * 100 } : {})}
          />
        )}
        {trouble && (
          <Alert severity="error" sx={{ mt: 1 }}>
            {trouble}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onBack}>
          A file instead
        </Button>
        <Box sx={{ flex: 1 }} />
        {task && (
          <Button color="inherit" onClick={stop}>
            Stop
          </Button>
        )}
        <Button variant="contained" disabled={busy} onClick={() => void get()}>
          Get this square
        </Button>
      </DialogActions>
    </>
  );
}
