import {
  Alert,
  Box,
  Button,
  Drawer,
  FormControlLabel,
  IconButton,
  MenuItem,
  Stack,
  Switch,
  TextField,
  Typography,
} from "@mui/material";
import type { FormEvent } from "react";
import { Link } from "react-router";
import { type Breaker, type Circuit, type Face, Problem } from "../api/client";
import { newId, useCommit, useLogEvent } from "../api/edits";
import { useFace } from "../api/reads";
import { useHouseView } from "../app/house";
import { ClashNote } from "./ClashNote";
import { NumberField } from "./NumberField";
import { Pictures } from "./Pictures";
import { ProblemNote } from "./ProblemNote";
import { useEdited } from "./useEdited";

/** All that is known of a breaker: what it is, what hangs on it, what happened to it. */
export function BreakerSheet() {
  const { id, house, chosen, choose } = useHouseView();
  const breaker = house.breakers.find((b) => b.id === chosen.sheet);
  const face = useFace(id, breaker?.panel);
  const { sheet: _, ...rest } = chosen;
  const close = () => choose(rest);
  const drawn = face.data?.breakers.find((b) => b.breaker === breaker?.id);
  return (
    <Drawer
      anchor="right"
      open={breaker !== undefined}
      onClose={close}
      slotProps={{ paper: { sx: { width: "min(560px, 100vw)", p: 2.5 }, "aria-labelledby": "breaker-title" } }}
    >
      {breaker !== undefined && (
        <Stack spacing={2.5}>
          <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "start" }}>
            <Typography variant="h2" id="breaker-title">
              Breaker <span className="mono">{breaker.at.join("-")}</span>, {breaker.amps} A
              {house.panels.length > 1 && `, panel ${house.panels.find((p) => p.id === breaker.panel)?.name}`}
            </Typography>
            <Button onClick={close}>Close</Button>
          </Stack>
          {drawn !== undefined && <Marks drawn={drawn} onGo={close} />}
          <Actions breaker={breaker} onGo={close} />
          <Facts key={breaker.id} breaker={breaker} />
          <Circuits breaker={breaker} />
          <Pictures of="breaker" which={breaker.id} />
        </Stack>
      )}
    </Drawer>
  );
}

function Marks({ drawn, onGo }: { drawn: Face["breakers"][number]; onGo: () => void }) {
  const { id } = useHouseView();
  return (
    <Box>
      <Typography sx={{ color: "text.secondary" }}>
        Leg {drawn.legs.join(" and ")}, {drawn.frame === "full" ? "full size" : `${drawn.frame} body`}
        {drawn.feeds != null && `, feeds panel ${drawn.feeds}`}
      </Typography>
      {drawn.marks.map((mark) => (
        <Alert key={mark} severity="warning" sx={{ mt: 1 }}>
          Found so, and it does not fit: {mark}. Local code decides; an electrician has to look at it.
        </Alert>
      ))}
      {drawn.mend != null && (
        <Button
          variant="outlined"
          component={Link}
          to={`/houses/${id}/plan-work/${drawn.mend}?breaker=${drawn.breaker}`}
          onClick={onGo}
          sx={{ mt: 1, minHeight: 44 }}
        >
          Make it fit …
        </Button>
      )}
    </Box>
  );
}

function Actions({ breaker, onGo }: { breaker: Breaker; onGo: () => void }) {
  const { id } = useHouseView();
  const log = useLogEvent(id);
  const protects = breaker.device === "gfci" || breaker.device === "dual";
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
      <Button variant="contained" component={Link} to={`/houses/${id}/reset/${breaker.id}`} onClick={onGo}>
        It tripped: reset …
      </Button>
      <Button variant="outlined" component={Link} to={`/houses/${id}/off?breaker=${breaker.id}`} onClick={onGo}>
        Work on its circuit …
      </Button>
      <Button variant="outlined" component={Link} to={`/houses/${id}/suspect/${breaker.id}`} onClick={onGo}>
        Is it the breaker? …
      </Button>
      <Button
        variant="outlined"
        component={Link}
        to={`/houses/${id}/plan-work/replace?breaker=${breaker.id}`}
        onClick={onGo}
      >
        Replace it …
      </Button>
      <Button
        variant="outlined"
        component={Link}
        to={`/houses/${id}/plan-work/protect?breaker=${breaker.id}`}
        onClick={onGo}
      >
        Ground-fault or arc-fault …
      </Button>
      {protects && (
        <>
          <Button
            disabled={log.busy}
            onClick={() => log.write({ what: "breaker-test", breaker: breaker.id, passed: true })}
          >
            TEST pressed: it tripped
          </Button>
          <Button
            disabled={log.busy}
            onClick={() => log.write({ what: "breaker-test", breaker: breaker.id, passed: false })}
          >
            TEST pressed: it did NOT trip
          </Button>
        </>
      )}
      <ProblemNote error={log.error} />
    </Stack>
  );
}

function Facts({ breaker }: { breaker: Breaker }) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const edited = useEdited(breaker);
  const { draft, set } = edited;
  const half = breaker.at.some((at) => /[ab]$/.test(at));
  const fault = commit.error instanceof Problem ? commit.error : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    commit.mutate({ change: { type: "put-breaker", breaker: draft }, base: edited.base });
  };
  return (
    <Stack component="form" spacing={1.5} onSubmit={submit}>
      <Typography variant="h3">What is written on it</Typography>
      <Stack direction="row" spacing={1.5}>
        <TextField label="Type" value={draft.model ?? ""} onChange={(e) => set({ model: e.target.value })} fullWidth />
        <TextField
          select
          label="Handle"
          value={draft.handle}
          onChange={(e) => set({ handle: e.target.value as Breaker["handle"] })}
          sx={{ minWidth: 120 }}
        >
          <MenuItem value="on">on</MenuItem>
          <MenuItem value="off">off</MenuItem>
          <MenuItem value="tripped">tripped</MenuItem>
        </TextField>
      </Stack>
      <Stack direction="row" spacing={1.5}>
        {half && (
          <TextField
            select
            label="Body"
            value={draft.frame ?? ""}
            onChange={(e) =>
              set({ frame: e.target.value === "" ? null : (e.target.value as "tandem" | "quad" | "half") })
            }
            sx={{ minWidth: 150 }}
          >
            <MenuItem value="">as it stands</MenuItem>
            <MenuItem value="tandem">tandem</MenuItem>
            <MenuItem value="quad">quad</MenuItem>
            <MenuItem value="half">half size, alone</MenuItem>
          </TextField>
        )}
        {breaker.at.length > 1 && (
          <TextField
            select
            label="Handles"
            value={draft.trip ?? "common"}
            onChange={(e) => set({ trip: e.target.value as "common" | "handle-tie" })}
            sx={{ minWidth: 170 }}
          >
            <MenuItem value="common">one, common trip</MenuItem>
            <MenuItem value="handle-tie">tied, trip apart</MenuItem>
          </TextField>
        )}
        <NumberField
          label="Wires a terminal takes"
          unit="by its label"
          optional
          value={draft.terminal?.wires ?? null}
          onChange={(wires) => set({ terminal: wires === null ? null : { ...draft.terminal, wires } })}
        />
        {draft.terminal != null && (
          <NumberField
            label="Torque"
            unit="in-lb"
            optional
            value={draft.terminal.torque ?? null}
            onChange={(torque) => draft.terminal != null && set({ terminal: { ...draft.terminal, torque } })}
          />
        )}
      </Stack>
      <FormControlLabel
        control={<Switch checked={draft.as_found ?? false} onChange={(_, as_found) => set({ as_found })} />}
        label="As found: it really stands there, though it should not"
      />
      <FormControlLabel
        control={<Switch checked={draft.inlet ?? false} onChange={(_, inlet) => set({ inlet })} />}
        label="A generator feeds in here"
      />
      <FormControlLabel
        control={<Switch checked={draft.bad ?? false} onChange={(_, bad) => set({ bad })} />}
        label="It is bad: it stays off until it is replaced"
      />
      <ClashNote edited={edited} />
      <ProblemNote error={fault} />
      <Button
        type="submit"
        variant="outlined"
        disabled={commit.isPending || edited.clashes}
        sx={{ alignSelf: "start" }}
      >
        Save
      </Button>
    </Stack>
  );
}

const metals: Record<Circuit["metal"] & string, string> = { copper: "copper", aluminium: "aluminium" };

function Circuits({ breaker }: { breaker: Breaker }) {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const circuits = (house.circuits ?? []).filter((c) => c.breaker === breaker.id);
  const add = () => commit.mutate({ type: "put-circuit", circuit: { id: newId(), breaker: breaker.id } });
  const looked = (unwired: boolean) => commit.mutate({ type: "put-breaker", breaker: { ...breaker, unwired } });
  return (
    <Box>
      <Typography variant="h3" gutterBottom>
        What hangs on it
      </Typography>
      <Stack spacing={1.5}>
        {circuits.map((circuit) => (
          <CircuitForm key={circuit.id} circuit={circuit} breaker={breaker} />
        ))}
        {circuits.length === 0 && (
          <Typography>
            {breaker.unwired === true
              ? "Looked at: no wire is on it. Its place counts as room for something else."
              : "No wire recorded. Behind the cover: qualified people only."}
          </Typography>
        )}
      </Stack>
      <ProblemNote error={commit.error} />
      {breaker.unwired !== true && (
        <Button onClick={add} disabled={commit.isPending}>
          {circuits.length === 0 ? "Record its wire" : "Another wire on it"}
        </Button>
      )}
      {circuits.length === 0 && (
        <Button onClick={() => looked(breaker.unwired !== true)} disabled={commit.isPending}>
          {breaker.unwired === true ? "There is a wire after all" : "No wire is on it"}
        </Button>
      )}
    </Box>
  );
}

function CircuitForm({ circuit, breaker }: { circuit: Circuit; breaker: Breaker }) {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const edited = useEdited(circuit);
  const { draft, set } = edited;
  const mates = (house.circuits ?? []).filter((c) => c.id !== circuit.id && c.neutral_of == null);
  const nameOf = (c: Circuit) => house.breakers.find((b) => b.id === c.breaker)?.at.join("-") ?? "?";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const wire = draft.wire === "" ? null : (draft.wire ?? null);
    commit.mutate({ change: { type: "put-circuit", circuit: { ...draft, wire } }, base: edited.base });
  };
  return (
    <Stack
      component="form"
      spacing={1.25}
      onSubmit={submit}
      aria-label="Wire"
      sx={{ border: 1, borderColor: "divider", borderRadius: 1, p: 1.5 }}
    >
      <Stack direction="row" spacing={1}>
        <TextField
          label="Size (AWG)"
          value={draft.wire ?? ""}
          onChange={(e) => set({ wire: e.target.value })}
          placeholder="14"
        />
        <NumberField
          label="Insulated conductors"
          unit="2 in 14-2"
          optional
          value={draft.conductors ?? null}
          onChange={(conductors) => set({ conductors })}
        />
        <TextField
          select
          label="Metal"
          value={draft.metal ?? "copper"}
          onChange={(e) => set({ metal: e.target.value as "copper" | "aluminium" })}
          sx={{ minWidth: 120 }}
        >
          {Object.entries(metals).map(([value, word]) => (
            <MenuItem key={value} value={value}>
              {word}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
      <Stack direction="row" spacing={1}>
        <NumberField
          label="Length"
          unit="ft"
          optional
          value={draft.length ?? null}
          onChange={(length) => set({ length })}
        />
        {breaker.at.length > 1 && (
          <TextField
            select
            label="On pole"
            value={draft.pole ?? 0}
            onChange={(e) => set({ pole: Number(e.target.value) === 0 ? null : Number(e.target.value) })}
            sx={{ minWidth: 100 }}
          >
            <MenuItem value={0}>all</MenuItem>
            {breaker.at.map((at, i) => (
              <MenuItem key={at} value={i + 1}>
                {at}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          select
          label="Begins"
          value={draft.landed ?? "terminal"}
          onChange={(e) => set({ landed: e.target.value as "terminal" | "splice" })}
          sx={{ minWidth: 130 }}
        >
          <MenuItem value="terminal">at the terminal</MenuItem>
          <MenuItem value="splice">in a splice</MenuItem>
        </TextField>
        <TextField
          select
          label="Shares the neutral of"
          value={draft.neutral_of ?? 0}
          onChange={(e) => set({ neutral_of: Number(e.target.value) === 0 ? null : Number(e.target.value) })}
          sx={{ minWidth: 160 }}
        >
          <MenuItem value={0}>none</MenuItem>
          {mates.map((c) => (
            <MenuItem key={c.id} value={c.id}>
              {nameOf(c)}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
      <FormControlLabel
        control={<Switch checked={draft.as_found ?? false} onChange={(_, as_found) => set({ as_found })} />}
        label="As found, though it should not be"
      />
      <ClashNote edited={edited} />
      <ProblemNote error={commit.error} />
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="outlined" disabled={commit.isPending || edited.clashes}>
          Save
        </Button>
        <IconButton
          aria-label="Take out this wire"
          onClick={() => commit.mutate({ type: "remove-circuit", circuit: circuit.id })}
          sx={{ fontSize: "0.9rem", borderRadius: 1 }}
        >
          Take out
        </IconButton>
      </Stack>
    </Stack>
  );
}
