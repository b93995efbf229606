import { Alert, Autocomplete, Button, Stack, TextField } from "@mui/material";
import type { Load } from "../../api/client";
import { useHouseView } from "../../app/house";
import { roomName } from "../../parts/words";
import type { Going } from "./useRound";

/** One thing switched over, and the same place read again: a rise shows where it hangs. */
export function SwitchOne({ going }: { going: Going }) {
  const { house } = useHouseView();
  const loads = house.loads ?? [];
  const tag = (load: Load) => house.points.find((p) => p.id === load.point)?.tag ?? "";
  const verb = (load: Load) => (going.isOn(load.id) ? "Switch off" : "Switch on");
  return (
    <Autocomplete
      options={loads}
      value={null}
      blurOnSelect
      clearOnBlur
      getOptionLabel={(l) => `${verb(l)}: ${l.name}, ${tag(l)}`}
      getOptionKey={(l) => l.id}
      onChange={(_, load) => load !== null && going.ask(load.id)}
      renderInput={(params) => (
        <TextField
          {...params}
          label="Switch one thing, and read the same place again"
          helperText="What the reading rises or falls by hangs there"
        />
      )}
    />
  );
}

/** What was asked to be switched: whoever is there does it and says so. */
export function Asked({ going }: { going: Going }) {
  const { house } = useHouseView();
  const load = house.loads?.find((l) => l.id === going.round.asked);
  if (load === undefined) {
    return null;
  }
  const point = house.points.find((p) => p.id === load.point);
  const on = going.isOn(load.id);
  return (
    <Alert severity="info" icon={false} role="status" sx={{ "& .MuiAlert-message": { width: "100%" } }}>
      <Stack spacing={1}>
        <strong style={{ fontSize: "1.2rem" }}>
          Switch {on ? "off" : "on"}: {load.name}
          {point !== undefined && `, ${roomName(house, point)} (${point.tag})`}
        </strong>
        <span>Nothing else meanwhile. Then the same place is read again.</span>
        <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }}>
          <Button variant="contained" color="act" sx={{ minHeight: 56 }} onClick={() => going.switched([load.id], !on)}>
            It is {on ? "off" : "on"} now
          </Button>
          <Button sx={{ minHeight: 56 }} onClick={() => going.ask(null)}>
            Leave it
          </Button>
        </Stack>
      </Stack>
    </Alert>
  );
}
