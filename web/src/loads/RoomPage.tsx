import {
  Alert,
  Autocomplete,
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  Paper,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas, Sheet } from "../api/client";
import { useCommit } from "../api/edits";
import { useCatalog, useServiceLoad } from "../api/reads";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";

/** May this be added? Every published method side by side, with the worksheet under each. */
export function RoomPage() {
  const { id, house } = useHouseView();
  const large = useCatalog().data?.large ?? [];
  const [name, setName] = useState("");
  const [amps, setAmps] = useState<number | null>(null);
  const [volts, setVolts] = useState(240);
  const [long, setLong] = useState(false);
  const [round, setRound] = useState(0);
  const usual = large.find((u) => u.name === name);
  const add =
    amps === null ? "" : `${amps}@${volts}${usual === undefined ? "" : `,${usual.kind}`}${long ? ",continuous" : ""}`;
  const answers = useServiceLoad(id, add);
  const choose = (chosen: string) => {
    setName(chosen);
    const known = large.find((u) => u.name === chosen);
    if (known !== undefined) {
      setAmps(known.high);
      setVolts(known.volts);
      setLong(known.habit === "hours");
      setRound(round + 1);
    }
  };
  const query = add === "" ? "" : `?${new URLSearchParams({ add })}`;
  return (
    <Stack spacing={2.5}>
      <Typography variant="h2" component="h1">
        Room for more?
      </Typography>
      {house.about.area == null && <Area />}
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5 }}>
        <Autocomplete
          freeSolo
          sx={{ minWidth: 260 }}
          options={large.map((u) => u.name)}
          inputValue={name}
          onInputChange={(_, typed) => choose(typed)}
          renderInput={(params) => (
            <TextField
              {...params}
              label="What is to be added"
              helperText={usual && `typically ${usual.low} to ${usual.high} A: its nameplate is better`}
            />
          )}
        />
        <NumberField key={round} label="It draws" unit="A" optional value={amps} onChange={setAmps} />
        <TextField
          select
          label="at"
          value={volts}
          onChange={(e) => setVolts(Number(e.target.value))}
          sx={{ minWidth: 100 }}
        >
          {[120, 208, 240].map((v) => (
            <MenuItem key={v} value={v}>
              {v} V
            </MenuItem>
          ))}
        </TextField>
        <FormControlLabel
          control={<Checkbox checked={long} onChange={(_, ticked) => setLong(ticked)} />}
          label="runs for three hours or more"
        />
      </Stack>
      <ProblemNote error={answers.error} />
      {answers.data !== undefined && !answers.isError && (
        <>
          <Stack direction="row" sx={{ flexWrap: "wrap", gap: 2 }}>
            {answers.data.map((a) => (
              <Method key={a.method} answer={a} />
            ))}
          </Stack>
          <Button
            variant="outlined"
            component="a"
            href={`/api/v1/houses/${id}/service-load.pdf${query}`}
            target="_blank"
            rel="noreferrer"
            sx={{ alignSelf: "flex-start" }}
          >
            Print the worksheets (PDF)
          </Button>
        </>
      )}
      <Typography sx={{ color: "text.secondary" }}>
        Any one of these methods is enough where local code allows it; the authority that gives the permit decides
        which. Figures are those of the 2023 edition, from memory: check them before you rely on them.
      </Typography>
    </Stack>
  );
}

function Method({ answer }: { answer: Schemas["MethodAnswer"] }) {
  const sheet = answer.then ?? answer.now;
  const over = sheet?.margin_amps != null && sheet.margin_amps < 0;
  return (
    <Paper
      variant="outlined"
      sx={{ p: 2, flex: "1 1 360px", borderWidth: 2, borderColor: over ? "error.main" : "divider" }}
    >
      <Typography variant="h3" component="h2" gutterBottom sx={{ "&::first-letter": { textTransform: "uppercase" } }}>
        {answer.title}
      </Typography>
      {answer.missing != null && (
        <Typography>
          Not reckoned: {answer.missing}.{" "}
          {answer.method === "record" && <Link to="../energy">To the energy record</Link>}
        </Typography>
      )}
      {sheet != null && <Worksheet sheet={sheet} now={answer.then != null ? answer.now : undefined} over={over} />}
    </Paper>
  );
}

function Worksheet({ sheet, now, over }: { sheet: Sheet; now: Sheet | null | undefined; over: boolean }) {
  return (
    <Stack spacing={1}>
      <Typography sx={{ fontSize: "1.3rem", fontWeight: 650 }}>
        {over ? "⚠ " : ""}
        <span className="mono">{sheet.rounded} A</span>
        {sheet.rating != null && ` of ${sheet.rating} A`}
        {now != null && `, now ${now.rounded} A`}
      </Typography>
      <Typography>{sheet.said}</Typography>
      <table style={{ borderSpacing: "0 4px", fontSize: 14 }}>
        <tbody>
          {sheet.lines.map((line) => (
            <tr key={line.what}>
              <td
                className="mono"
                style={{ textAlign: "right", whiteSpace: "nowrap", verticalAlign: "top", paddingRight: 10 }}
              >
                {Math.round(line.va)} VA
              </td>
              <td>
                {line.what} <span style={{ opacity: 0.75 }}>[{line.source}]</span>
              </td>
            </tr>
          ))}
          <tr>
            <td className="mono" style={{ textAlign: "right", paddingRight: 10, whiteSpace: "nowrap" }}>
              <strong>{Math.round(sheet.va)} VA</strong>
            </td>
            <td>
              <strong>
                = {sheet.amps.toFixed(1)} A
                {sheet.neutral_amps != null && `, neutral ${sheet.neutral_amps.toFixed(1)} A`}
              </strong>
            </td>
          </tr>
        </tbody>
      </table>
      {sheet.notes.map((note) => (
        <Typography key={note} sx={{ color: "text.secondary", fontSize: 14 }}>
          {note}.
        </Typography>
      ))}
    </Stack>
  );
}

/** The living area is asked for where it is needed. */
function Area() {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const [value, setValue] = useState<number | null>(null);
  const [unit, setUnit] = useState<"ft2" | "m2">("ft2");
  return (
    <Alert severity="info">
      <Stack spacing={1.5}>
        <Typography>
          The methods begin with the living area: measured outside, without garage, porch and unfinished rooms.
        </Typography>
        <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
          <NumberField
            label="Living area"
            unit={unit === "ft2" ? "ft²" : "m²"}
            optional
            value={value}
            onChange={setValue}
          />
          <TextField select label="in" value={unit} onChange={(e) => setUnit(e.target.value as "ft2" | "m2")}>
            <MenuItem value="ft2">ft²</MenuItem>
            <MenuItem value="m2">m²</MenuItem>
          </TextField>
          <Button
            variant="contained"
            disabled={value === null || commit.isPending}
            onClick={() =>
              value !== null && commit.mutate({ type: "set-about", about: { ...house.about, area: { value, unit } } })
            }
          >
            Keep it
          </Button>
        </Stack>
        <ProblemNote error={commit.error} />
      </Stack>
    </Alert>
  );
}
