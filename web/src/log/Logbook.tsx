import { Box, Button, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { timeOfDay } from "../parts/words";

type Line = Schemas["Line"];

const kindWord: Record<Schemas["LineKind"], string> = {
  trip: "Tripped",
  reset: "Reset",
  test: "Test",
  volts: "Voltages",
  work: "Work",
  run: "Run",
  finding: "Finding",
  note: "Note",
  change: "Change",
};

/** More lines are not read on a screen; the table has them all. */
const SHOWN = 200;

function day(line: Line): string {
  return new Date(line.time).toLocaleDateString([], {
    weekday: "long",
    year: "numeric",
    month: "long",
    day: "numeric",
  });
}

/** What a line says behind its first word, which stands before it in bold. */
function told({ text }: Line): string {
  return text.replace(/^(tripped|reset)[;,]?\s*/, "");
}

/** What happened, day by day, newest first. */
export function Logbook({ lines, onBreaker }: { lines: readonly Line[]; onBreaker: (breaker: number) => void }) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const days = new Map<string, Line[]>();
  for (const line of lines.slice(0, SHOWN)) {
    days.set(day(line), [...(days.get(day(line)) ?? []), line]);
  }
  return (
    <Box component="section" aria-label="Log, newest first" sx={{ maxWidth: 820 }}>
      <ProblemNote error={commit.error} />
      {[...days].map(([name, those]) => (
        <Box key={name} sx={{ mb: 2.5 }}>
          <Typography variant="h3" component="h2" sx={{ borderBottom: 2, borderColor: "divider", pb: 0.5 }}>
            {name}
          </Typography>
          {those.map((line) => (
            <Stack
              key={`${line.time} ${line.kind} ${line.entry ?? line.text}`}
              direction="row"
              sx={{ gap: 1.5, py: 1, borderBottom: 1, borderColor: "divider", alignItems: "baseline" }}
            >
              <Typography className="mono" sx={{ minWidth: 80, whiteSpace: "nowrap" }}>
                {timeOfDay(new Date(line.time))}
              </Typography>
              <Box sx={{ flexGrow: 1 }}>
                <Typography component="span" sx={{ fontWeight: 700 }}>
                  {kindWord[line.kind]}
                </Typography>{" "}
                {line.breaker_id != null && (
                  <Button size="small" onClick={() => onBreaker(line.breaker_id ?? 0)}>
                    {line.panel} {line.at}
                  </Button>
                )}
                {line.breaker_id == null && line.panel !== "" && `${line.panel} `}
                <Typography>{[told(line), line.note].filter((t) => t !== "").join(". ")}</Typography>
                {line.job != null && (
                  <Button size="small" component={Link} to={`/houses/${id}/job/${line.job}`}>
                    The whole protocol
                  </Button>
                )}
                <Typography variant="caption" component="div" sx={{ color: "text.secondary" }}>
                  {line.who}
                </Typography>
              </Box>
              {line.entry != null && (
                <Button
                  size="small"
                  disabled={commit.isPending}
                  aria-label={`Take out the line of ${line.time}`}
                  onClick={() => line.entry != null && commit.mutate({ type: "remove-log", entry: line.entry })}
                >
                  Take out
                </Button>
              )}
            </Stack>
          ))}
        </Box>
      ))}
    </Box>
  );
}
