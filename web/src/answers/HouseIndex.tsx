import { Box, Button, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { Fragment, memo, useDeferredValue, useState } from "react";
import type { Beliefs, House, Point, PointBelief } from "../api/client";
import { useHouseView, useMap } from "../app/house";
import { capital, pointName, roomName, standing } from "../parts/words";

const orders = ["room", "breaker", "thing"] as const;
type By = (typeof orders)[number];
const byWord: Record<By, string> = { room: "By room", breaker: "By breaker", thing: "By name" };

interface Row {
  point: Point;
  belief: PointBelief;
  /** What is there, with what is plugged in. */
  thing: string;
  room: string;
  at: string;
}

/** All of the house and what feeds it, to be read through, filtered and printed. */
export function HouseIndex() {
  const beliefs = useDeferredValue(useMap());
  const [by, setBy] = useState<By>("room");
  const [only, setOnly] = useState("");
  const wanted = useDeferredValue(only);
  if (beliefs === undefined || beliefs.points.length === 0) {
    return null;
  }
  return (
    <Stack component="section" aria-labelledby="index-title" spacing={1.5}>
      <Typography variant="h2" id="index-title">
        All of the house
      </Typography>
      <Stack direction="row" className="no-print" sx={{ gap: 1.5, flexWrap: "wrap", alignItems: "flex-end" }}>
        <ToggleButtonGroup
          exclusive
          value={by}
          aria-label="In which order"
          onChange={(_, to) => to !== null && setBy(to)}
        >
          {orders.map((each) => (
            <ToggleButton key={each} value={each} sx={{ minHeight: 44 }}>
              {byWord[each]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <TextField
          label="Only what has this in it"
          value={only}
          onChange={(e) => setOnly(e.target.value)}
          sx={{ flex: "1 1 180px" }}
        />
        <Button variant="outlined" onClick={() => window.print()} sx={{ minHeight: 44 }}>
          Print this list
        </Button>
      </Stack>
      <Rows beliefs={beliefs} by={by} only={wanted} />
    </Stack>
  );
}

const Rows = memo(function Rows({ beliefs, by, only }: { beliefs: Beliefs; by: By; only: string }) {
  const { house, chosen, choose } = useHouseView();
  const words = only.toLowerCase().split(/\s+/);
  const rows = beliefs.points
    .flatMap((belief) => rowOf(house, belief) ?? [])
    .filter((row) => words.every((word) => said(row).includes(word)));
  const groups = grouped(house, beliefs, rows, by);
  return (
    <>
      <Typography role="status" sx={{ color: "text.secondary" }}>
        {rows.length} of {beliefs.points.length}. Bold is proven; slanted is not.
      </Typography>
      <Box component="table" sx={{ borderCollapse: "collapse", width: "100%", "& td, & th": { textAlign: "left" } }}>
        <tbody>
          {groups.map((group) => (
            <Fragment key={group.name}>
              {group.name !== "" && (
                <tr>
                  <Box component="th" colSpan={3} scope="colgroup" sx={{ pt: 2, pb: 0.5 }}>
                    {group.name}
                  </Box>
                </tr>
              )}
              {group.rows.map(({ point, belief, thing, room, at }) => (
                <Box component="tr" key={point.id} sx={{ borderTop: 1, borderColor: "divider" }}>
                  <Box component="td" sx={{ width: 64 }}>
                    <Button
                      size="small"
                      className="mono"
                      onClick={() => choose({ ...chosen, point: point.id })}
                      sx={{ minWidth: 48, minHeight: 44, justifyContent: "start" }}
                    >
                      {point.tag}
                    </Button>
                  </Box>
                  <td>
                    {thing}
                    {by !== "room" && <Box component="span" sx={{ color: "text.secondary" }}>{`, ${room}`}</Box>}
                  </td>
                  <Box
                    component="td"
                    sx={{
                      width: "34%",
                      fontWeight: belief.proven ? 700 : 400,
                      fontStyle: belief.proven ? "normal" : "italic",
                    }}
                  >
                    {at}
                  </Box>
                </Box>
              ))}
            </Fragment>
          ))}
        </tbody>
      </Box>
    </>
  );
});

function rowOf(house: House, belief: PointBelief): Row | undefined {
  const point = house.points.find((p) => p.id === belief.point);
  if (point === undefined) {
    return undefined;
  }
  const loads = (house.loads ?? []).filter((l) => l.point === point.id && l.name !== pointName(point));
  const thing = capital([pointName(point), ...loads.map((l) => l.name)].join(", "));
  return { point, belief, thing, room: roomName(house, point), at: standing(house, belief) };
}

/** All that one may look for in a row. */
function said({ point, thing, room, at }: Row): string {
  return `${point.tag} ${thing} ${room} ${at}`.toLowerCase();
}

function grouped(house: House, beliefs: Beliefs, rows: readonly Row[], by: By): { name: string; rows: Row[] }[] {
  if (by === "thing") {
    return [{ name: "", rows: rows.toSorted((a, b) => a.thing.localeCompare(b.thing)) }];
  }
  if (by === "room") {
    const of = house.rooms.map((room) => ({ name: room.name, rows: rows.filter((r) => r.point.room === room.id) }));
    return of.filter((group) => group.rows.length > 0);
  }
  const first = (row: Row) => row.belief.candidates[0];
  const order = beliefs.breakers.map((b) => b.breaker);
  const likeliest = [...new Set(rows.map((row) => first(row)?.breaker))].toSorted(
    (a, b) => place(order, a) - place(order, b),
  );
  return likeliest.map((breaker) => {
    const here = rows.filter((row) => first(row)?.breaker === breaker);
    const at = here[0] === undefined ? undefined : first(here[0]);
    return { name: at === undefined ? "No breaker, or not known" : `Breaker ${at.panel} ${at.at}`, rows: here };
  });
}

/** What is of no breaker comes last. */
function place(order: readonly number[], breaker: number | undefined): number {
  return breaker === undefined ? order.length : order.indexOf(breaker);
}
