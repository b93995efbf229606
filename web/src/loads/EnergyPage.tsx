import { Box, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useTheme } from "@mui/material/styles";
import { type DragEvent, useState } from "react";
import type { Schemas } from "../api/client";
import { useAddEnergy, useCommit } from "../api/edits";
import { useHeat } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";

/** What the utility's meter recorded: a file dropped here stays on this machine. */
export function EnergyPage() {
  const { id, house } = useHouseView();
  const add = useAddEnergy(id);
  const commit = useCommit(id);
  const records = house.energy ?? [];
  const [picked, setPicked] = useState<number>();
  const record = records.find((r) => r.id === picked) ?? records.at(-1);
  const heat = useHeat(id, record?.id);
  const [over, setOver] = useState(false);
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const file = event.dataTransfer.files[0];
    if (file !== undefined) {
      add.mutate(file);
    }
  };
  return (
    <Stack spacing={2.5}>
      <Typography variant="h2" component="h1">
        Energy record
      </Typography>
      <Box
        data-drop
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        sx={{
          border: 2,
          borderStyle: "dashed",
          borderColor: over ? "primary.main" : "divider",
          p: 2.5,
          borderRadius: 1,
        }}
      >
        <Typography gutterBottom>
          Drop the utility's file here: Green Button (XML), or a table (CSV) of times and kilowatt-hours, by the hour or
          finer. Nothing leaves this machine.
        </Typography>
        <Button variant={records.length === 0 ? "contained" : "outlined"} component="label" disabled={add.isPending}>
          {add.isPending ? "Reading it …" : "Choose a file"}
          <input
            type="file"
            hidden
            accept=".xml,.csv,text/csv,application/xml"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file !== undefined) {
                add.mutate(file);
              }
              e.target.value = "";
            }}
          />
        </Button>
      </Box>
      <ProblemNote error={add.error ?? commit.error} />
      {records.length > 1 && (
        <TextField select label="Record" value={record?.id ?? ""} onChange={(e) => setPicked(Number(e.target.value))}>
          {records.map((r) => (
            <MenuItem key={r.id} value={r.id}>
              {r.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <ProblemNote error={heat.error} />
      {record !== undefined && heat.data !== undefined && (
        <Record heat={heat.data} name={record.name} kwh={record.kwh} />
      )}
      {record !== undefined && (
        <Button
          sx={{ alignSelf: "flex-start" }}
          disabled={commit.isPending}
          onClick={() => commit.mutate({ type: "remove-energy", energy: record.id })}
        >
          Take this record out
        </Button>
      )}
    </Stack>
  );
}

function Record({ heat, name, kwh }: { heat: Schemas["Heat"]; name: string; kwh: number }) {
  const first = heat.days[0]?.date ?? "";
  const last = heat.days.at(-1)?.date ?? "";
  return (
    <Stack spacing={2}>
      <Box>
        <Typography>
          {name}: {first} to {last}, {Math.round(kwh)} kWh
        </Typography>
        {heat.said.map((line) => (
          <Typography key={line} sx={{ fontWeight: 650 }}>
            {line}.
          </Typography>
        ))}
      </Box>
      <HeatMap heat={heat} />
      <Box component="section" aria-labelledby="largest">
        <Typography variant="h3" component="h2" id="largest" gutterBottom>
          The largest demands, one a day
        </Typography>
        <ol style={{ margin: 0, paddingLeft: 34 }}>
          {heat.largest.map((d) => (
            <li key={d.at}>
              <span className="mono">{(d.watts / 1000).toFixed(2)} kW</span> on {d.at}
            </li>
          ))}
        </ol>
      </Box>
    </Stack>
  );
}

const months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** Days from left to right, hours downwards; the darker the more. */
function HeatMap({ heat }: { heat: Schemas["Heat"] }) {
  const { palette } = useTheme();
  const [cell, tall, left, top] = [2.4, 9, 44, 18];
  const width = left + heat.days.length * cell + 8;
  const height = top + 24 * tall + 30;
  const month = (date: string) => months[Number(date.slice(5, 7)) - 1] ?? "";
  const most = Math.max(1, heat.most);
  return (
    <Box sx={{ overflowX: "auto" }} tabIndex={0} aria-label="Heat map, scrolls sideways" role="group">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        // As wide as there is room for, so that no month is beyond the edge at the desk; on a phone it scrolls.
        style={{ display: "block", width: "100%", minWidth: 0.75 * width, maxWidth: width }}
        role="img"
        aria-label={`The year as days by hours; the largest hour is ${(heat.most / 1000).toFixed(1)} kW`}
        fontFamily="'Overpass Variable', sans-serif"
        fontSize={12}
        fill={palette.text.primary}
      >
        {[0, 6, 12, 18].map((hour) => (
          <text key={hour} x={left - 6} y={top + hour * tall + 10} textAnchor="end">
            {hour} h
          </text>
        ))}
        {heat.days.map((day, d) => (
          <g key={day.date}>
            {day.date.endsWith("-01") && (
              <text x={left + d * cell} y={12}>
                {month(day.date)}
              </text>
            )}
            {day.hours.map((watts, hour) =>
              watts == null ? null : (
                <rect
                  // biome-ignore lint/suspicious/noArrayIndexKey: an hour is its place
                  key={hour}
                  x={left + d * cell}
                  y={top + hour * tall}
                  width={cell}
                  height={tall}
                  fill={watts < 0 ? palette.act.main : palette.primary.main}
                  fillOpacity={0.06 + 0.94 * Math.min(1, Math.abs(watts) / most)}
                />
              ),
            )}
          </g>
        ))}
        {[0, 0.25, 0.5, 0.75, 1].map((share, i) => (
          <g key={share}>
            <rect
              x={left + i * 74}
              y={height - 20}
              width={18}
              height={12}
              fill={palette.primary.main}
              fillOpacity={0.06 + 0.94 * share}
            />
            <text x={left + i * 74 + 22} y={height - 10}>
              {((share * most) / 1000).toFixed(1)} kW
            </text>
          </g>
        ))}
      </svg>
    </Box>
  );
}
