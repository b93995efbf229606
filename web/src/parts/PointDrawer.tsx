import {
  Alert,
  Box,
  Button,
  Chip,
  Drawer,
  LinearProgress,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from "@mui/material";
import type { Evidence, House, PointBelief, Schemas } from "../api/client";
import { useCommit } from "../api/edits";
import { useBelief, useBeliefs } from "../api/reads";
import { useHouseView, useMap } from "../app/house";
import { noteDone } from "../trace/doneHere";
import { ProblemNote } from "./ProblemNote";
import { TellMore } from "./TellMore";
import { breakerName, hintWord, percent, pointName, roomName, twoHandles } from "./words";

/** A point: its breaker, how sure, why, and what else would go dark. */
export function PointDrawer() {
  const { id, house, chosen, choose } = useHouseView();
  const commit = useCommit(id);
  const point = house.points.find((p) => p.id === chosen.point);
  // At once what the map says of it; its reasons follow. Nothing is read while it is closed.
  const beliefs = useBeliefs(id, point !== undefined).data;
  const reasoned = useBelief(id, chosen.point).data;
  const belief = reasoned ?? beliefs?.points.find((b) => b.point === chosen.point);
  const { point: _, ...rest } = chosen;
  return (
    <Drawer
      anchor="right"
      open={point !== undefined}
      onClose={() => choose(rest)}
      slotProps={{ paper: { sx: { width: "min(520px, 100vw)", p: 2.5 }, "aria-labelledby": "point-title" } }}
    >
      {point !== undefined && belief !== undefined && (
        <Stack spacing={2}>
          <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "start" }}>
            <Typography variant="h2" id="point-title">
              {roomName(house, point)}, {pointName(point)}{" "}
              <Box component="span" className="mono" sx={{ fontSize: "0.8em", fontWeight: 400 }}>
                {point.tag}
              </Box>
            </Typography>
            <Button onClick={() => choose(rest)}>Close</Button>
          </Stack>
          <Verdict belief={belief} />
          {reasoned !== undefined && (
            <Typography>
              {belief.status === "no-breaker" ? "Since " : "Believed since "}
              {reasoned.because}.
            </Typography>
          )}
          {belief.verdict.level !== "danger" && <Candidates house={house} belief={belief} />}
          {belief.status !== "no-breaker" && <AlsoDark belief={belief} />}
          <TellMore key={point.id} point={point} />
          {reasoned === undefined ? (
            <LinearProgress aria-label="Reading the observations" />
          ) : (
            <Reasons
              house={house}
              belief={reasoned}
              onRetract={(evidence) =>
                commit.mutate(
                  { type: "retract", evidence },
                  {
                    onSuccess: ({ revision }) =>
                      noteDone(id, { text: `${point.tag}: observation taken out`, revision }),
                  },
                )
              }
            />
          )}
          <ProblemNote error={commit.error} />
        </Stack>
      )}
    </Drawer>
  );
}

const severity = { danger: "error", open: "warning", proven: "info" } as const;

function Verdict({ belief: { verdict } }: { belief: PointBelief }) {
  return (
    <Alert severity={severity[verdict.level]} {...(verdict.level === "proven" && { icon: false })}>
      {verdict.said === "" ? verdict.short : verdict.said}
    </Alert>
  );
}

function Candidates({ house, belief }: { house: House; belief: PointBelief }) {
  const rows = [
    ...belief.candidates.slice(0, 4).map((c) => ({ name: `Breaker ${breakerName(house, c)}`, p: c.p })),
    ...(belief.two_handles != null && belief.two_handles.p > 0.005
      ? [{ name: `Two handles: ${twoHandles(house, belief)}`, p: belief.two_handles.p }]
      : []),
    ...(belief.none > 0.005 ? [{ name: "None of these", p: belief.none }] : []),
  ];
  return (
    <Box>
      <Typography variant="h3" gutterBottom>
        How likely each feeds it
      </Typography>
      {rows.map((row) => (
        <Stack key={row.name} direction="row" spacing={1} sx={{ alignItems: "center" }}>
          <Typography sx={{ width: 150 }}>{row.name}</Typography>
          <Box sx={{ flexGrow: 1, height: 8, border: 1, borderColor: "divider" }} aria-hidden>
            <Box sx={{ width: `${row.p * 100}%`, height: "100%", bgcolor: "primary.main" }} />
          </Box>
          <Typography className="mono" sx={{ width: 64, textAlign: "right" }}>
            {percent(row.p)}
          </Typography>
        </Stack>
      ))}
      {belief.hints.length > 0 && (
        <Typography sx={{ color: "text.secondary", mt: 1 }}>
          Beforehand{" "}
          {belief.hints.map((h) => `${hintWord[h.kind]} (${h.odds > 1 ? "for it" : "against it"})`).join(", ")}.
        </Typography>
      )}
    </Box>
  );
}

function AlsoDark({ belief }: { belief: PointBelief }) {
  const { house, choose } = useHouseView();
  const beliefs = useMap();
  const first = belief.candidates[0];
  const breaker = beliefs?.breakers.find((b) => b.breaker === first?.breaker);
  if (breaker === undefined || first === undefined || belief.status === "unknown") {
    return null;
  }
  const others = breaker.feeds.filter((f) => f.point !== belief.point);
  const called = (fed: { point: number; tag: string }) => {
    const point = house.points.find((p) => p.id === fed.point);
    return point === undefined ? fed.tag : `${roomName(house, point)}, ${pointName(point)} (${fed.tag})`;
  };
  return (
    <Box>
      <Typography variant="h3" gutterBottom>
        With {breaker.at} off also goes dark
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 0.75 }}>
        {others.map((f) => (
          <Chip
            key={f.point}
            size="small"
            variant={f.proven ? "filled" : "outlined"}
            label={f.proven ? called(f) : `${called(f)}: ${percent(f.p)} likely`}
            onClick={() => choose({ point: f.point })}
          />
        ))}
        {others.length === 0 && <Typography>Nothing else that is known.</Typography>}
      </Stack>
      {breaker.others > 0 && (
        <Typography sx={{ color: "text.secondary", mt: 1 }}>{breaker.others} more points are not ruled out.</Typography>
      )}
    </Box>
  );
}

const saysWord: Record<Schemas["Says"], string> = { for: "for it", against: "AGAINST", neither: "neither" };

function Reasons({
  house,
  belief,
  onRetract,
}: {
  house: House;
  belief: PointBelief;
  onRetract: (evidence: number) => void;
}) {
  const evidence = new Map<number, Evidence>(house.evidence.map((e) => [e.id, e]));
  if (belief.reasons.length === 0) {
    return <Typography sx={{ color: "text.secondary" }}>Nothing was observed here yet.</Typography>;
  }
  return (
    <Box>
      <Typography variant="h3">Why</Typography>
      <Table size="small" aria-label="Observations">
        <TableHead>
          <TableRow>
            <TableCell>Observed</TableCell>
            <TableCell>Says</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {belief.reasons.map((reason) => {
            const piece = evidence.get(reason.evidence);
            return (
              piece !== undefined && (
                <TableRow key={reason.evidence}>
                  <TableCell>
                    {reason.said}
                    <Typography variant="caption" component="div" sx={{ color: "text.secondary" }}>
                      {piece.who}, {new Date(piece.time).toLocaleString()}
                    </Typography>
                  </TableCell>
                  <TableCell sx={{ whiteSpace: "nowrap", fontWeight: reason.says === "against" ? 700 : 400 }}>
                    {reason.set_aside ? "set aside" : saysWord[reason.says]}
                  </TableCell>
                  <TableCell>
                    <Button size="small" onClick={() => onRetract(piece.id)}>
                      Take out
                    </Button>
                  </TableCell>
                </TableRow>
              )
            );
          })}
        </TableBody>
      </Table>
    </Box>
  );
}
