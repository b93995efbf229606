import { Alert, Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { ToRead } from "../../api/client";
import { newId } from "../../api/edits";
import { useLoads, useNextReading } from "../../api/reads";
import { useHasStandIns, useHouseView } from "../../app/house";
import { NumberPad } from "../NumberPad";
import { standInReads } from "../standIn";
import type { Going } from "./useRound";

/** What was read last, with what was expected then. */
export interface LastRead {
  reading: number;
  place: ToRead;
  value: number;
}

const CLAMP = { clamp: true, utility_meter: false, plug_in: false };

/** What would be best on for a reading here, where one more teaches much. */
function MostToldWith({ at }: { at: ToRead["at"]["place"] }) {
  const { id } = useHouseView();
  const best = useNextReading(id, CLAMP).data?.find((next) => at.at === "breaker" && next.breaker === at.breaker);
  return best === undefined ? null : <Typography>Most is told so: {best.action}.</Typography>;
}

/** One place: what to clamp, what is expected, the number. */
export function ClampCard({ going, place, last }: { going: Going; place: ToRead; last: Last }) {
  const { id } = useHouseView();
  const standIns = useHasStandIns();
  const [typed, setTyped] = useState("");
  /** More than lasts long there was typed: it is asked about once. */
  const [odd, setOdd] = useState<number>();
  const enter = (value: number) => {
    if (place.ask_above != null && value > place.ask_above && odd !== value) {
      setOdd(value);
      return;
    }
    last.set({ reading: going.note(place, value), place, value });
    setTyped("");
    setOdd(undefined);
  };
  const standIn = async () => {
    const { place: at, of } = place.at;
    const quantity = of == null ? { quantity: "amps" as const } : { quantity: "amps" as const, of };
    const shown = await standInReads(id, "clamp", at, quantity, going.round.on ?? [], newId());
    setTyped(shown?.value == null ? "" : String(shown.value));
  };
  return (
    <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }}>
      <Typography sx={{ color: "text.secondary" }}>
        {going.nth} of {going.places.length}, {place.panel}
      </Typography>
      <Typography variant="h3" component="h2" aria-live="polite" sx={{ fontSize: "1.4rem" }}>
        Clamp {place.said}
      </Typography>
      <Typography sx={{ color: "text.secondary" }}>One conductor alone. Expected: {place.expected_said}.</Typography>
      <MostToldWith at={place.at.place} />
      {place.held !== "" && (
        <Alert severity="error" sx={{ my: 1 }}>
          {place.held}: keep your hands away, and pass over it.
        </Alert>
      )}
      <ReadLast last={last} />
      <NumberPad
        label="Read"
        unit="A"
        value={typed}
        onChange={(text) => {
          setTyped(text);
          setOdd(undefined);
        }}
        onEnter={enter}
        busy={false}
      />
      {odd !== undefined && (
        <Alert severity="warning" sx={{ mt: 1 }}>
          {odd} A here, and more than {place.ask_above} A does not last long: is that what it shows? Enter it once more
          if it does.
        </Alert>
      )}
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1, mt: 1 }}>
        <Button sx={{ minHeight: 48 }} onClick={() => going.pass(place)}>
          Pass over
        </Button>
        <Button
          sx={{ minHeight: 48 }}
          disabled={(going.round.done ?? []).length === 0}
          onClick={() => {
            last.set(undefined);
            going.back();
          }}
        >
          Take the last back
        </Button>
        {standIns && (
          <Button sx={{ minHeight: 48 }} onClick={() => void standIn()}>
            Read the stand-in
          </Button>
        )}
        <Box sx={{ flexGrow: 1 }} />
        <Button sx={{ minHeight: 48 }} onClick={going.end}>
          End the round
        </Button>
      </Stack>
    </Paper>
  );
}

/** What was read last, and whether it fits: that is known once the server has heard of it. */
export function useLast() {
  const { id } = useHouseView();
  const [read, set] = useState<LastRead>();
  const misfit = useLoads(id).data?.misfits.find((m) => m.reading === read?.reading)?.said;
  return { read, set, misfit };
}

export type Last = ReturnType<typeof useLast>;

export function ReadLast({ last: { read, misfit } }: { last: Last }) {
  if (read === undefined) {
    return null;
  }
  const { place, value } = read;
  return (
    <Alert severity={misfit === undefined ? "info" : "warning"} role="status" sx={{ mt: 1, py: 0 }}>
      {place.panel}, {place.said}: {value.toFixed(1)} A read, {place.expected.toFixed(1)} A expected.
      {misfit !== undefined && ` Does not fit. ${misfit}`}
    </Alert>
  );
}
