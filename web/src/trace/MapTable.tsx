import { Box, Button, Chip, Stack, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { visuallyHidden } from "@mui/utils";
import { memo, type ReactNode, useDeferredValue } from "react";
import type { Beliefs, PointBelief } from "../api/client";
import { useHouseView, useMap } from "../app/house";
import { percent, pointName, roomName, standing, statusWord } from "../parts/words";

const mark: Record<PointBelief["status"], string> = {
  proven: "■",
  likely: "◧",
  unknown: "□",
  "no-breaker": "⚠",
  "two-handles": "◫",
};

/** The map so far: every point with what feeds it; a chosen breaker filters it. */
export const MapTable = memo(function MapTable() {
  const beliefs = useDeferredValue(useMap());
  return beliefs !== undefined && beliefs.points.length > 0 && <Rows beliefs={beliefs} />;
});

/** As long as a house has points: drawn when no finger waits. */
const Rows = memo(function Rows({ beliefs }: { beliefs: Beliefs }) {
  const { house, chosen, choose } = useHouseView();
  const breaker = beliefs.breakers.find((b) => b.breaker === chosen.breaker);
  const fed = new Set(breaker?.feeds.map((f) => f.point));
  const rows = beliefs.points.filter((b) => breaker === undefined || fed.has(b.point));
  return (
    <section aria-labelledby="map-title">
      <Stack direction="row" spacing={2} sx={{ alignItems: "center", mb: 1 }}>
        <Typography variant="h2" id="map-title">
          {breaker === undefined ? "The map so far" : `What breaker ${breaker.at} feeds, as far as known`}
        </Typography>
        {breaker !== undefined && <Chip label="show all" onClick={() => choose({})} onDelete={() => choose({})} />}
      </Stack>
      {breaker !== undefined && rows.length === 0 && <Typography>Nothing is known to hang on it yet.</Typography>}
      {breaker !== undefined && breaker.others > 0 && (
        <Typography gutterBottom sx={{ color: "text.secondary" }}>
          {breaker.others} more points are not ruled out.
        </Typography>
      )}
      {rows.length > 0 && (
        <Table size="small" sx={{ "& .MuiTableCell-root": { px: { xs: 0.75, sm: 2 } } }}>
          <TableHead>
            <TableRow>
              <TableCell>Point</TableCell>
              <TableCell>What</TableCell>
              <TableCell>Breaker</TableCell>
              <TableCell align="right">Sure</TableCell>
              <TableCell>
                <Word>Standing</Word>
              </TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((belief) => {
              const point = house.points.find((p) => p.id === belief.point);
              const against = belief.against;
              return (
                point !== undefined && (
                  <TableRow key={belief.point} hover>
                    <TableCell>
                      <Button
                        size="small"
                        className="mono"
                        onClick={() => choose({ ...chosen, point: point.id })}
                        sx={{ minWidth: 48, justifyContent: "start" }}
                      >
                        {belief.tag}
                      </Button>
                    </TableCell>
                    <TableCell>
                      {roomName(house, point)}, {pointName(point)}
                    </TableCell>
                    <TableCell
                      sx={{ fontWeight: belief.proven ? 700 : 400, fontStyle: belief.proven ? "normal" : "italic" }}
                    >
                      {standing(house, belief)}
                    </TableCell>
                    <TableCell align="right" className="mono" sx={{ whiteSpace: "nowrap" }}>
                      {belief.candidates[0] === undefined || belief.status === "no-breaker"
                        ? ""
                        : percent(belief.candidates[0].p)}
                    </TableCell>
                    <TableCell sx={{ whiteSpace: "nowrap" }}>
                      <span aria-hidden>{mark[belief.status]}</span>{" "}
                      <Word>
                        {statusWord[belief.status]}
                        {against > 0 && `, ${against} ${against === 1 ? "disagrees" : "disagree"}`}
                      </Word>
                    </TableCell>
                  </TableRow>
                )
              );
            })}
          </TableBody>
        </Table>
      )}
    </section>
  );
});

/** A word that a phone has no room for beside its mark; it is read aloud all the same. */
function Word({ children }: { children: ReactNode }) {
  return (
    <Box component="span" sx={(theme) => ({ [theme.breakpoints.down("sm")]: visuallyHidden })}>
      {children}
    </Box>
  );
}
