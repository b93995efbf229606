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
          <Verdict house={house} belief={belief} />
          {reasoned !== undefined && (
            <Typography>
              {belief.status === "no-breaker" ? "Since " : "Believed since "}
              {reasoned.because}.
            </Typography>
          )}
          <Candidates house={house} belief={belief} />
          <AlsoDark belief={belief} />
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

function Verdict({ house, belief }: { house: House; belief: PointBelief }) {
  const first = belief.candidates[0];
  if (belief.status === "no-breaker") {
    return belief.elsewhere > belief.no_power ? (
      <Alert severity="error">
        It stays live whatever is off: another panel, a generator or a solar inverter may feed it. Stop here and call an
        electrician before anybody works on it.
      </Alert>
    ) : (
      <Alert severity="warning">
        No power was found here even with all breakers on. Look for a switch, a tripped ground-fault device or an open
        wire.
      </Alert>
    );
  }
  if (belief.status === "two-handles") {
    return (
      <Alert severity="warning">
        On two handles: {twoHandles(house, belief)} together. With one of them off a wire of it stays live: both must be
        off, and each is tested to ground. An electrician should give it one two-pole breaker.
      </Alert>
    );
  }
  if (belief.proven && first !== undefined) {
    return (
      <Alert severity="info" icon={false}>
        Proven: breaker {breakerName(house, first)}. Before work still test it dead: a live source, the point, the live
        source again.
      </Alert>
    );
  }
  return (
    <Alert severity="warning">
      Not proven.{" "}
      {first !== undefined && belief.status === "likely" && `Probably breaker ${breakerName(house, first)}. `}
      {first !== undefined &&
        belief.not_told_apart.length > 0 &&
        `${[first, ...belief.not_told_apart].map((b) => breakerName(house, b)).join(" or ")}: not told apart yet. `}
      It still needs {belief.needs}.
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
        How sure
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
            label={f.proven ? called(f) : `${called(f)}: maybe, ${percent(f.p)}`}
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
