import { Autocomplete, FormControlLabel, MenuItem, Stack, Switch, TextField } from "@mui/material";
import type { Pace } from "../api/client";
import { useHouseView } from "../house";
import { breakerName, paceWord } from "../words";
import type { Tracing } from "./useTracing";

/** The people and tools at hand, and what must stay on. */
export function CrewBar({ tracing }: { tracing: Tracing }) {
  const { house, beliefs } = useHouseView();
  const { crew, setCrew } = tracing;
  const all = beliefs?.breakers ?? [];
  return (
    <Stack
      direction="row"
      sx={{ flexWrap: "wrap", gap: 2, alignItems: "center" }}
      role="group"
      aria-label="Who and what is at hand"
    >
      <TextField
        select
        label="People"
        value={crew.people}
        onChange={(e) => setCrew({ ...crew, people: Number(e.target.value) })}
        sx={{ width: 210 }}
      >
        <MenuItem value={1}>alone</MenuItem>
        <MenuItem value={2}>two: panel and rooms</MenuItem>
      </TextField>
      <TextField
        select
        label="Pace"
        value={crew.pace ?? "even"}
        onChange={(e) => setCrew({ ...crew, pace: e.target.value as Pace })}
        sx={{ width: 220 }}
      >
        {(Object.keys(paceWord) as Pace[]).map((pace) => (
          <MenuItem key={pace} value={pace}>
            {paceWord[pace]}
          </MenuItem>
        ))}
      </TextField>
      <Autocomplete
        multiple
        size="small"
        sx={{ minWidth: 280, flexGrow: 1 }}
        options={all}
        value={all.filter((b) => (crew.keep_on ?? []).includes(b.breaker))}
        getOptionLabel={(b) => {
          const label = house.breakers.find((x) => x.id === b.breaker)?.label;
          return label === undefined || label === "" ? breakerName(house, b) : `${breakerName(house, b)} “${label}”`;
        }}
        isOptionEqualToValue={(a, b) => a.breaker === b.breaker}
        onChange={(_, chosen) => setCrew({ ...crew, keep_on: chosen.map((b) => b.breaker) })}
        renderInput={(props) => (
          <TextField
            {...props}
            label="Must stay on"
            placeholder={(crew.keep_on ?? []).length === 0 ? "medical device, freezer …" : ""}
          />
        )}
      />
      <FormControlLabel
        label="Transmitter and receiver at hand"
        control={
          <Switch
            checked={crew.transmitter ?? false}
            onChange={(e) => setCrew({ ...crew, transmitter: e.target.checked })}
          />
        }
      />
    </Stack>
  );
}
