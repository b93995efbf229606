import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { words } from "../api/core.gen.json";
import { useHouseView } from "../app/house";
import { count } from "../parts/words";

type Goal = Schemas["Goal"];

export interface LeftOut {
  /** Breakers that are left as they are, whatever room they would make; nothing where the job has no such choice. */
  left: readonly number[] | undefined;
  onLeave: (breakers: number[]) => void;
}

/** The ways to do a job, one of them chosen; of several jobs those of each. */
export function Ways({
  plan,
  onWay,
  left,
  onLeave,
}: LeftOut & { plan: Schemas["Pictured"]; onWay: (goal: Goal) => void }) {
  const of = (way: Way) => way.of ?? "";
  const jobs = [...new Set(plan.ways.map(of))];
  const chosen = plan.ways.filter((way) => way.chosen);
  return (
    <Stack component="section" spacing={1.5} aria-label="Ways">
      {jobs.map((job, nth) => (
        <WaysOf
          key={job}
          id={`ways-${nth}`}
          job={job}
          ways={plan.ways.filter((way) => of(way) === job)}
          onWay={onWay}
        />
      ))}
      <LeaveOut parts={chosen.flatMap((way) => way.parts ?? [])} left={left} onLeave={onLeave} />
    </Stack>
  );
}

type Way = Schemas["WayTo"];

function WaysOf({
  id,
  job,
  ways,
  onWay,
}: {
  id: string;
  job: string;
  ways: readonly Way[];
  onWay: (goal: Goal) => void;
}) {
  const title = ways.length < 2 ? "The way" : `${ways.length} ways, the least trouble first`;
  return (
    <Box>
      <Typography variant="h3" component="h2" id={id} gutterBottom>
        {job === "" ? title : `${job}: ${title.toLowerCase()}`}
      </Typography>
      <Stack spacing={1} role="radiogroup" aria-labelledby={id}>
        {ways.map((way, nth) => (
          <Paper
            key={way.title}
            variant="outlined"
            component="button"
            role="radio"
            aria-checked={way.chosen}
            onClick={() => onWay(way.goal)}
            sx={{
              p: 1.5,
              textAlign: "left",
              cursor: "pointer",
              font: "inherit",
              color: "inherit",
              borderWidth: 2,
              borderColor: way.chosen ? "primary.main" : "divider",
            }}
          >
            <Typography sx={{ fontWeight: 700 }}>
              {nth + 1}. {way.title}
              {way.chosen && " (chosen)"}
            </Typography>
            <Typography>
              {way.why} {hands(way)}To buy: {words.CostClass[way.cost]}.
            </Typography>
          </Paper>
        ))}
      </Stack>
    </Box>
  );
}

/** What the chosen way does, each part to be left out: another way is found then. */
function LeaveOut({ parts, left, onLeave }: LeftOut & { parts: readonly Schemas["WayPart"][] }) {
  const { house } = useHouseView();
  if (left === undefined) {
    return null;
  }
  const names = house.breakers.filter((b) => left.includes(b.id)).map((b) => b.at.join("-"));
  return (
    <Box sx={{ mt: 1.5 }}>
      {parts.length > 0 && (
        <Typography sx={{ color: "text.secondary" }}>What is done for it, and may be left out:</Typography>
      )}
      <Box component="ul" aria-label="What this way does" sx={{ m: 0, p: 0, listStyle: "none" }}>
        {parts.map((part) => (
          <Stack
            key={part.said}
            component="li"
            direction="row"
            sx={{ gap: 1, alignItems: "center", justifyContent: "space-between" }}
          >
            <Typography>{part.said}</Typography>
            <Button onClick={() => onLeave([...left, part.breaker])} sx={{ minHeight: 44, flexShrink: 0 }}>
              Not this
            </Button>
          </Stack>
        ))}
      </Box>
      {names.length > 0 && (
        <Stack direction="row" sx={{ gap: 1, alignItems: "center", justifyContent: "space-between" }}>
          <Typography>
            Left as {names.length === 1 ? "it is" : "they are"}: {names.join(", ")}
          </Typography>
          <Button onClick={() => onLeave([])} sx={{ minHeight: 44, flexShrink: 0 }}>
            Take back
          </Button>
        </Stack>
      )}
    </Box>
  );
}

/** What it takes with hands, where anything of what stands there is touched. */
function hands(way: Way): string {
  const anew = `${count(way.bodies, "breaker")} taken out, ${count(way.wires, "wire")} landed anew`;
  return way.minutes === 0 ? "" : `${anew}: about ${way.minutes} min. `;
}
