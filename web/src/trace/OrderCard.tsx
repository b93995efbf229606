import { Alert, Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Advice } from "../api/client";
import { useHouseView } from "../app/house";
import type { Order } from "../face/Body";
import { capital } from "../parts/words";
import { Handles } from "./Handles";
import { SearchCard } from "./SearchCard";
import { StopButton } from "./StopButton";
import type { Tracing } from "./useTracing";

/** Which handles have to move, for the drawing. */
export function orders(advice: Advice): Map<number, Order> {
  return new Map([
    ...advice.switch_off.map((b): [number, Order] => [b.breaker, "off"]),
    ...advice.switch_on.map((b): [number, Order] => [b.breaker, "on"]),
  ]);
}

function minutes(seconds: number): string {
  return seconds < 90 ? `${Math.round(seconds / 10) * 10} s` : `${Math.round(seconds / 60)} min`;
}

interface Props {
  advice: Advice;
  tracing: Tracing;
  onMoved: () => void;
  /** For a phone: short, the button within reach. */
  big?: boolean;
}

/** Handles to move: back on first, then off. */
export function OrderCard({ advice, tracing, onMoved, big = false }: Props) {
  const nothing = advice.switch_on.length + advice.switch_off.length === 0;
  const { words } = advice;
  const points = `${advice.visit.length} ${advice.visit.length === 1 ? "point" : "points"}`;
  return (
    <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }}>
      <Typography variant="h2" gutterBottom>
        {nothing ? "Leave the handles as they are" : "Move these handles"}
      </Typography>
      <Handles word="Switch back ON" list={advice.switch_on} />
      <Handles word="Switch OFF" list={advice.switch_off} />
      {nothing && advice.off.length === 0 && <Typography gutterBottom>{capital(words.every)} is ON.</Typography>}
      {nothing && <Handles word="Off now" list={advice.off} moves={false} />}
      <Stack direction="row" spacing={1.5} sx={{ my: 2, alignItems: "center", flexWrap: "wrap" }}>
        <Button variant="contained" color="act" size="large" fullWidth={big} disabled={tracing.busy} onClick={onMoved}>
          {!nothing
            ? "Handles are moved"
            : advice.action === "listen"
              ? "They are so: listen"
              : "They are so: go and look"}
        </Button>
        <StopButton tracing={tracing} />
      </Stack>
      {words.ask_first.map((ask) => (
        <Typography key={ask} sx={{ fontWeight: 700 }}>
          Ask first: {ask}
        </Typography>
      ))}
      {words.dark !== "" && (
        <Typography gutterBottom>
          Goes dark as far as known: {words.dark}. Other things may: ask about medical devices, computers, a running
          oven.
        </Typography>
      )}
      <Typography>
        {advice.action === "listen" ? (
          <>Then hear whether the radio plays on: {words.look_at}</>
        ) : (
          <>
            Then {advice.action === "switch" ? "look at" : "go with the tool to"} {points}: {words.rooms}
          </>
        )}
        . About {minutes(advice.seconds)}.
      </Typography>
    </Paper>
  );
}

/** In a run, with every point settled: breakers that feed nothing are to be switched off for a search. */
export function searchIsDue(tracing: Tracing, advice: Advice): boolean {
  const off = new Set(advice.switch_on.map((b) => b.breaker));
  return tracing.run !== undefined && advice.search.some((b) => !off.has(b.breaker));
}

/** The end: what feeds nothing searched, everything on again, and what is left open. */
export function DoneCard({ advice, tracing, onMoved }: Props) {
  const { id } = useHouseView();
  const allOn = advice.switch_on.length === 0;
  if (tracing.run !== undefined && advice.search.length > 0) {
    return !searchIsDue(tracing, advice) ? (
      <SearchCard advice={advice} tracing={tracing} />
    ) : (
      <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }}>
        <Typography variant="h2" gutterBottom>
          Last round: these feed nothing on the list
        </Typography>
        <Handles
          word="Switch back ON"
          list={advice.switch_on.filter((b) => !advice.search.some((s) => s.breaker === b.breaker))}
        />
        <Handles word="Switch OFF" list={advice.search} />
        <Stack direction="row" spacing={1.5} sx={{ my: 2, alignItems: "center", flexWrap: "wrap" }}>
          <Button
            variant="contained"
            color="act"
            size="large"
            disabled={tracing.busy}
            onClick={() => tracing.beginSearch(advice)}
          >
            Handles are moved
          </Button>
          <StopButton tracing={tracing} />
        </Stack>
        <Typography>
          Then walk through once and look for what else is dead. That completes every breaker’s list.
        </Typography>
      </Paper>
    );
  }
  return (
    <Paper variant="outlined" sx={{ p: 2, borderColor: allOn ? "divider" : "act.main", borderWidth: 2 }}>
      <Typography variant="h2" gutterBottom>
        {advice.held.length > 0
          ? "Nothing more can be proven meanwhile"
          : advice.unproven.length === 0
            ? "Everything that can be proven is proven"
            : "Nothing more can be proven this way"}
      </Typography>
      <Handles word="Switch back ON" list={advice.switch_on} />
      {!allOn && (
        <Button variant="contained" color="act" size="large" disabled={tracing.busy} onClick={onMoved}>
          They are on
        </Button>
      )}
      {allOn && <Typography gutterBottom>{capital(advice.words.every)} is on.</Typography>}
      {allOn && (
        <Button
          variant="contained"
          component={Link}
          to={`/houses/${id}/directory`}
          sx={{ minHeight: 56, my: 1, display: "flex" }}
        >
          The card for the panel’s door
        </Button>
      )}
      {advice.unproven.length > 0 && (
        <Alert severity="warning" sx={{ mt: 1 }}>
          Not proven with what may be switched off: {advice.words.unproven}
        </Alert>
      )}
    </Paper>
  );
}
