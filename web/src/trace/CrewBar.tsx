import {
  Autocomplete,
  Box,
  MenuItem,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import type { Crew, Pace } from "../api/client";
import { useHouseView, useMap } from "../app/house";
import { breakerName, count, paceWord, timeOfDay } from "../parts/words";
import { keepingOn } from "./crew";
import type { Tracing } from "./useTracing";

type Tool = "transmitter" | "radio" | "monitor" | "clamp";

const tools: Record<Tool, string> = {
  transmitter: "transmitter and receiver",
  radio: "radio, heard at the panel",
  monitor: "energy monitor and a load",
  clamp: "clamp meter, cover off",
};

const walkingWord = ["as it comes", "spare some", "spare most", "as little as can be"];

/** Hours for which a breaker may be kept on; beyond that it is for good. */
const hours = [1, 2, 4, 12];

/** The crew in a few words. */
export function atHand(crew: Crew): string {
  const others = (Object.keys(tools) as Tool[]).filter((tool) => crew[tool] === true).map((tool) => tools[tool]);
  const kept = (crew.keep_on ?? []).length;
  return [
    crew.people === 1 ? "Alone" : "Two people",
    count(crew.testers, "tester"),
    ...others,
    (paceWord[crew.pace ?? "even"].split(": ")[1] ?? "").trim(),
    ...(kept === 0 ? [] : [`${kept} must stay on`]),
  ].join(", ");
}

/** The people and tools at hand, how they like it, and what must stay on. */
export function CrewBar({ tracing }: { tracing: Tracing }) {
  const { crew, setCrew } = tracing;
  const chosen = (Object.keys(tools) as Tool[]).filter((tool) => crew[tool] === true);
  const has = (now: Tool[]) =>
    setCrew({
      ...crew,
      transmitter: now.includes("transmitter"),
      radio: now.includes("radio"),
      monitor: now.includes("monitor"),
      clamp: now.includes("clamp"),
    });
  return (
    <Stack spacing={2} role="group" aria-label="Who and what is at hand">
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 2 }}>
        <Choice
          label="People"
          value={crew.people}
          options={[
            [1, "alone"],
            [2, "two: panel and rooms"],
          ]}
          onChange={(people) => setCrew({ ...crew, people })}
        />
        <Choice
          label="Testers or lamps"
          value={crew.testers}
          options={Array.from({ length: 20 }, (_, i) => [i + 1, String(i + 1)])}
          onChange={(testers) => setCrew({ ...crew, testers })}
        />
        <Choice
          label="Outages"
          value={crew.pace ?? "even"}
          options={(Object.keys(paceWord) as Pace[]).map((pace) => [pace, paceWord[pace]])}
          onChange={(pace) => setCrew({ ...crew, pace })}
        />
        <Choice
          label="Walking"
          value={crew.walking ?? 1}
          options={walkingWord.map((word, i) => [i + 1, word])}
          onChange={(walking) => setCrew({ ...crew, walking })}
        />
      </Stack>
      <Box>
        <Typography variant="h3" id="tools-at-hand" gutterBottom>
          Also at hand
        </Typography>
        <ToggleButtonGroup
          value={chosen}
          onChange={(_, now: Tool[]) => has(now)}
          aria-labelledby="tools-at-hand"
          sx={{ flexWrap: "wrap" }}
        >
          {(Object.keys(tools) as Tool[]).map((tool) => (
            <ToggleButton key={tool} value={tool} sx={{ minHeight: 48, textTransform: "none" }}>
              {crew[tool] === true && "✓ "}
              {tools[tool]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        {crew.clamp === true && (
          <Typography sx={{ mt: 1 }}>
            With the cover off, live parts are bare: only for people qualified for it. Everybody else leaves the cover
            on.
          </Typography>
        )}
      </Box>
      <KeptOn crew={crew} onChange={setCrew} />
    </Stack>
  );
}

/** What may not lose power, for good or for some hours. */
function KeptOn({ crew, onChange }: { crew: Crew; onChange: (crew: Crew) => void }) {
  const { house } = useHouseView();
  const beliefs = useMap();
  const all = beliefs?.breakers ?? [];
  const kept = all.filter((b) => (crew.keep_on ?? []).includes(b.breaker));
  const name = (b: (typeof all)[number]) => {
    const label = house.breakers.find((x) => x.id === b.breaker)?.label ?? "";
    return label === "" ? breakerName(house, b) : `${breakerName(house, b)} “${label}”`;
  };
  const keepUntil = (breaker: number, until: string | undefined) => {
    const others = (crew.keep_until ?? []).filter((k) => k.breaker !== breaker);
    onChange({ ...crew, keep_until: until === undefined ? others : [...others, { breaker, until }] });
  };
  return (
    <Stack spacing={1}>
      <Autocomplete
        multiple
        size="small"
        options={all}
        value={kept}
        getOptionLabel={name}
        isOptionEqualToValue={(a, b) => a.breaker === b.breaker}
        onChange={(_, chosen) =>
          onChange(
            keepingOn(
              crew,
              chosen.map((b) => b.breaker),
            ),
          )
        }
        renderInput={(props) => (
          <TextField
            {...props}
            label="Must stay on"
            placeholder={kept.length === 0 ? "medical device, freezer …" : ""}
          />
        )}
      />
      {kept.map((b) => {
        const until = crew.keep_until?.find((k) => k.breaker === b.breaker)?.until;
        return (
          <TextField
            key={b.breaker}
            select
            label={`${name(b)} stays on`}
            value={until ?? "good"}
            onChange={(e) => keepUntil(b.breaker, e.target.value === "good" ? undefined : e.target.value)}
            sx={{ maxWidth: 320 }}
            slotProps={{
              select: {
                renderValue: () => (until === undefined ? "all the time" : `until ${timeOfDay(new Date(until))}`),
              },
            }}
          >
            <MenuItem value="good">all the time</MenuItem>
            {until !== undefined && !hours.some((h) => inHours(h) === until) && (
              <MenuItem value={until}>until {timeOfDay(new Date(until))}</MenuItem>
            )}
            {hours.map((h) => (
              <MenuItem key={h} value={inHours(h)}>
                for {h === 1 ? "an hour" : `${h} hours`}
              </MenuItem>
            ))}
          </TextField>
        );
      })}
    </Stack>
  );
}

/** On the full minute, so that the choices stay the same while a menu is open. */
function inHours(hours: number): string {
  const minute = 60_000;
  return new Date(Math.ceil((Date.now() + hours * 60 * minute) / minute) * minute).toISOString();
}

interface ChoiceProps<T extends string | number> {
  label: string;
  value: T;
  options: [T, string][];
  onChange: (value: T) => void;
}

function Choice<T extends string | number>({ label, value, options, onChange }: ChoiceProps<T>) {
  return (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => onChange(e.target.value as T)}
      sx={{ minWidth: 150, flexGrow: 1 }}
    >
      {options.map(([option, word]) => (
        <MenuItem key={option} value={option}>
          {word}
        </MenuItem>
      ))}
    </TextField>
  );
}
