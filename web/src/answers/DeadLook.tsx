import { Button, Paper, Stack, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import type { Check, Schemas } from "../api/client";
import { useAsking, useHouseView } from "../app/house";
import { useStance } from "../app/stance";
import { FaceBelow } from "../face/FaceBelow";
import { NumberField } from "../parts/NumberField";

type Next = Schemas["Next"];
type Showed = Schemas["Showed"];

interface Props {
  next: Next;
  onAnswer: (check: Check, showed: Showed) => void;
}

/** The next look, with what answers it: words, handles that are tapped on the panel, or numbers. */
export function DeadLook({ next, onAnswer }: Props) {
  const answer = (showed: Showed) => onAnswer(next.check, showed);
  return (
    <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }} aria-live="polite">
      <Typography sx={{ color: "text.secondary" }}>Look next, about {Math.round(next.seconds)} s</Typography>
      <Typography sx={{ fontSize: "1.2rem", fontWeight: 650, mb: 1 }}>{next.said}</Typography>
      <Stack direction={next.answered === "yes-no" ? "row" : "column"} spacing={1.5}>
        {next.choices.filter(isPlain).map((one) => (
          <Big key={one.said} onClick={() => answer(one.showed)}>
            {one.said}
          </Big>
        ))}
      </Stack>
      {next.check.check === "glance" && <Handles panel={next.check.panel} mind={next.mind} onAnswer={answer} />}
      {next.check.check === "measure" && <Volts panel={next.check.panel} onAnswer={answer} />}
      {next.check.check === "sides" && <Sides breaker={next.check.breaker} onAnswer={answer} />}
      {next.choices
        .filter((one) => !isPlain(one))
        .map((one) => (
          <Button key={one.said} fullWidth onClick={() => answer(one.showed)} sx={{ minHeight: 48, mt: 1 }}>
            {one.said}
          </Button>
        ))}
    </Paper>
  );
}

/** What a look is meant to show; that it clicked out, or cannot be told, stands below. */
const isPlain = (one: Next["choices"][number]) => one.showed !== "again-at-once" && one.showed !== "cannot-tell";

function Big({ onClick, disabled = false, children }: { onClick: () => void; disabled?: boolean; children: string }) {
  return (
    <Button
      variant="contained"
      color="act"
      onClick={onClick}
      disabled={disabled}
      sx={{ minHeight: 56, flex: 1, width: "100%" }}
    >
      {children}
    </Button>
  );
}

type Answered = { onAnswer: (showed: Showed) => void };

/** One glance answers for all handles: those that do not stand at ON are tapped on the drawing. */
function Handles({ panel, mind, onAnswer }: { panel: number; mind: Next["mind"] } & Answered) {
  const { house, setPanel } = useHouseView();
  const { stance } = useStance();
  const [seen, setSeen] = useState<ReadonlySet<number>>(new Set());
  const [main, setMain] = useState(false);
  useEffect(() => setPanel(panel), [panel, setPanel]);
  useAsking(`glance ${panel} ${[...seen]}`, {
    what: "Tap each handle that is not at ON",
    chosen: seen,
    onBreaker: (breaker) =>
      setSeen((old) => new Set(old.has(breaker) ? [...old].filter((b) => b !== breaker) : [...old, breaker])),
  });
  const has = house.panels.find((p) => p.id === panel)?.main != null;
  const none = seen.size === 0 && !main;
  const where = stance === "desk" ? "on the panel beside" : "on the panel below";
  return (
    <Stack spacing={1.5}>
      <Typography>
        Tap each of them {where}. {mind}
      </Typography>
      {has && (
        <Button
          variant={main ? "contained" : "outlined"}
          aria-pressed={main}
          onClick={() => setMain(!main)}
          sx={{ minHeight: 48 }}
        >
          The main stands between, or at OFF
        </Button>
      )}
      <Big onClick={() => onAnswer({ handles: { breakers: [...seen], main } })}>
        {none ? "All stand at ON" : `These: ${seen.size + (main ? 1 : 0)}`}
      </Big>
      {stance !== "desk" && <FaceBelow selected={undefined} />}
    </Stack>
  );
}

type Numbers = Record<string, number | null>;

/** The service voltages, all three at the same load. */
function Volts({ panel, onAnswer }: { panel: number } & Answered) {
  const { house } = useHouseView();
  const three = house.panels.find((p) => p.id === panel)?.supply === "wye-3ph";
  const [read, setRead] = useState<Numbers>({});
  const asked = three ? (["a_n", "b_n", "c_n", "a_b", "b_c", "c_a"] as const) : (["a_n", "b_n", "a_b"] as const);
  const value = (key: string) => read[key] ?? null;
  const all = asked.every((key) => value(key) !== null);
  return (
    <Stack spacing={1.5}>
      {asked.map((key) => (
        <NumberField
          key={key}
          label={between[key]}
          unit="V"
          value={value(key)}
          onChange={(volts) => setRead((old) => ({ ...old, [key]: volts }))}
        />
      ))}
      <Big
        disabled={!all}
        onClick={() =>
          onAnswer({
            volts: {
              a_n: value("a_n") ?? 0,
              b_n: value("b_n") ?? 0,
              a_b: value("a_b") ?? 0,
              ...(three ? { c_n: value("c_n"), b_c: value("b_c"), c_a: value("c_a") } : {}),
            },
          })
        }
      >
        Enter
      </Big>
    </Stack>
  );
}

const between = {
  a_n: "Leg A to neutral",
  b_n: "Leg B to neutral",
  c_n: "Leg C to neutral",
  a_b: "Leg A to leg B",
  b_c: "Leg B to leg C",
  c_a: "Leg C to leg A",
};

/** Each pole to neutral, on both sides of a breaker that is on. */
function Sides({ breaker, onAnswer }: { breaker: number } & Answered) {
  const { house } = useHouseView();
  const poles = house.breakers.find((b) => b.id === breaker)?.at ?? [];
  const [read, setRead] = useState<Numbers>({});
  const side = (which: string) => ({
    to_neutral: poles.map((at) => read[`${which} ${at}`] ?? null),
    across: null,
  });
  const all = poles.every((at) => read[`bus ${at}`] != null && read[`load ${at}`] != null);
  return (
    <Stack spacing={1.5}>
      {(["bus", "load"] as const).flatMap((which) =>
        poles.map((at) => (
          <NumberField
            key={`${which} ${at}`}
            label={`${which === "bus" ? "Bus side" : "Circuit side"}, pole ${at} to neutral`}
            unit="V"
            value={read[`${which} ${at}`] ?? null}
            onChange={(volts) => setRead((old) => ({ ...old, [`${which} ${at}`]: volts }))}
          />
        )),
      )}
      <Big disabled={!all} onClick={() => onAnswer({ sides: { bus: side("bus"), load: side("load") } })}>
        Enter
      </Big>
    </Stack>
  );
}
