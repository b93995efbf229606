import {
  Alert,
  Box,
  Button,
  MenuItem,
  Paper,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { type ReactNode, useState } from "react";
import { useSearchParams } from "react-router";
import type { House, Shutdown, Target } from "../api/client";
import { useShutdown } from "../api/reads";
import { useAsking, useHouseView, useMap } from "../app/house";
import { useStance } from "../app/stance";
import { FaceBelow } from "../face/FaceBelow";
import { PanelChoice } from "../parts/PanelChoice";
import { ProblemNote } from "../parts/ProblemNote";
import { useFeeds } from "../parts/useFeeds";
import { breakerName, mindWord } from "../parts/words";
import { EveryPanel } from "../survey/EveryPanel";
import { PointPicker } from "./PointPicker";

type Where = "points" | "circuit" | "panel";

/** What must be off to work somewhere, what goes dark, and how it is proven dead. */
export function ShutdownPage() {
  const { id, house } = useHouseView();
  const beliefs = useMap();
  const feeds = useFeeds();
  const [asked] = useSearchParams();
  const first = asked.get("point");
  const ofBreaker = asked.get("breaker");
  const [where, setWhere] = useState<Where>(ofBreaker === null ? "points" : "circuit");
  const [points, setPoints] = useState<number[]>(first === null ? [] : [Number(first)]);
  const [breaker, setBreaker] = useState<number | "">(ofBreaker === null ? "" : Number(ofBreaker));
  const [panel, setPanel] = useState<number | "">("");
  const target = targetOf(where, points, breaker, panel);
  const { stance } = useStance();
  useAsking(where === "circuit" ? `off ${breaker}` : undefined, {
    what: "Tap the breaker whose circuit you will work on",
    chosen: new Set(breaker === "" ? [] : [breaker]),
    onBreaker: (tapped) => setBreaker(tapped === breaker ? "" : tapped),
  });
  const answer = useShutdown(id, target);
  return (
    <Stack spacing={2} sx={{ maxWidth: 820 }}>
      <Typography variant="h2" component="h1">
        What must I switch off?
      </Typography>
      <Stack className="no-print" spacing={2}>
        <ToggleButtonGroup
          exclusive
          value={where}
          aria-label="Where the work is"
          onChange={(_, value: Where | null) => value !== null && setWhere(value)}
        >
          <ToggleButton value="points">at points</ToggleButton>
          <ToggleButton value="circuit">on a circuit</ToggleButton>
          <ToggleButton value="panel">in a panel</ToggleButton>
        </ToggleButtonGroup>
        {where === "points" && (
          <PointPicker quick label="Points you will work on" value={points} onChange={setPoints} />
        )}
        {where === "circuit" && (
          <TextField select label="Breaker" value={breaker} onChange={(e) => setBreaker(Number(e.target.value))}>
            {beliefs?.breakers.map((b) => (
              <MenuItem key={b.breaker} value={b.breaker}>
                {breakerName(house, b)}
                {feeds(b.breaker)}
              </MenuItem>
            ))}
          </TextField>
        )}
        {where === "circuit" && stance !== "desk" && breaker === "" && (
          <>
            <PanelChoice />
            <FaceBelow selected={undefined} />
          </>
        )}
        {where === "panel" && (
          <TextField select label="Panel" value={panel} onChange={(e) => setPanel(Number(e.target.value))}>
            {house.panels.map((p) => (
              <MenuItem key={p.id} value={p.id}>
                {p.name}
              </MenuItem>
            ))}
          </TextField>
        )}
      </Stack>
      <ProblemNote error={answer.error} />
      {target === undefined ? (
        <Typography>Choose where you will work; the handles, the test and the order come at once.</Typography>
      ) : (
        answer.data !== undefined && <Sheet answer={answer.data} house={house} />
      )}
    </Stack>
  );
}

function targetOf(where: Where, points: number[], breaker: number | "", panel: number | ""): Target | undefined {
  switch (where) {
    case "points":
      return points.length === 0 ? undefined : { at: "points", points };
    case "circuit":
      return breaker === "" ? undefined : { at: "circuit", breaker };
    case "panel":
      return panel === "" ? undefined : { at: "panel", panel };
  }
}

function Sheet({ answer, house }: { answer: Shutdown; house: House }) {
  return (
    <Stack spacing={2}>
      <Cautions of={answer.cautions.filter((c) => c.stop)} severity="error" />
      <Cautions of={answer.cautions.filter((c) => !c.stop)} severity="warning" />
      {answer.other_panels && <EveryPanel />}
      <There answer={answer} />
      {!answer.stop && <Steps answer={answer} house={house} />}
      <Typography sx={{ color: "text.secondary" }}>{answer.heads.law}</Typography>
      <Button className="no-print" variant="outlined" onClick={() => window.print()} sx={{ alignSelf: "start" }}>
        Print this sheet
      </Button>
    </Stack>
  );
}

function Steps({ answer, house }: { answer: Shutdown; house: House }) {
  return (
    <>
      <Step nth={1} title={answer.heads.off}>
        <MainOff answer={answer} />
        <Handles answer={answer} house={house} />
      </Step>
      <Step nth={2} title={answer.heads.prove}>
        <Tests answer={answer} />
      </Step>
      <Step nth={3} title={answer.heads.live}>
        {answer.stays_live.map((s) => (
          <Typography key={s.text}>{s.text}</Typography>
        ))}
      </Step>
      <Step nth={4} title={answer.heads.dark}>
        <Dark answer={answer} />
      </Step>
      <Step nth={5} title={answer.heads.back}>
        <Typography className="mono">
          {answer.back_on.map((b) => breakerName(house, b)).join(" → ") || answer.heads.back_all}
        </Typography>
      </Step>
    </>
  );
}

function Step({ nth, title, children }: { nth: number; title: string; children: ReactNode }) {
  return (
    <Paper variant="outlined" sx={{ p: 2, breakInside: "avoid" }}>
      <Typography variant="h3" component="h2" gutterBottom>
        <Box component="span" className="mono" sx={{ border: 2, px: 0.8, mr: 1, borderRadius: 1 }}>
          {nth}
        </Box>
        {title}
      </Typography>
      {children}
    </Paper>
  );
}

function Cautions({ of, severity }: { of: Shutdown["cautions"]; severity: "error" | "warning" }) {
  return (
    of.length > 0 && (
      <Alert severity={severity}>
        {of.map((caution) => (
          <Typography key={caution.text} sx={{ mb: 0.75, fontSize: "inherit" }}>
            {caution.text}
          </Typography>
        ))}
      </Alert>
    )
  );
}

/** What a hand can touch there beside what was asked for. */
function There({ answer }: { answer: Shutdown }) {
  const feeds = answer.circuit?.feeds ?? [];
  return (
    <>
      {feeds.length > 0 && (
        <Typography>
          Hangs on it: {answer.circuit?.surely || "nothing that is proven"}
          {answer.circuit?.perhaps ? `; perhaps ${answer.circuit.perhaps} (not proven)` : ""}.
        </Typography>
      )}
      {answer.in_the_box.map((mate) => (
        <Typography key={mate.tag}>
          In the box of <span className="mono">{mate.of}</span> is {mate.name} (<span className="mono">{mate.tag}</span>
          ) too.
        </Typography>
      ))}
    </>
  );
}

function MainOff({ answer }: { answer: Shutdown }) {
  const mains = [...(answer.main_off == null ? [] : [answer.main_off]), ...answer.other_mains];
  return mains.map((main) => (
    <Alert key={main.panel} severity="warning" icon={false} sx={{ mb: 1 }}>
      The sure way: panel {main.panel} off as a whole, by {main.said}.
    </Alert>
  ));
}

function Handles({ answer, house }: { answer: Shutdown; house: House }) {
  const [moved, setMoved] = useState<number[]>([]);
  const toggle = (breaker: number) =>
    setMoved((old) => (old.includes(breaker) ? old.filter((b) => b !== breaker) : [...old, breaker]));
  return (
    <Stack component="ol" spacing={1} sx={{ m: 0, p: 0, listStyle: "none" }}>
      {answer.switch_off.map((off) => {
        const done = moved.includes(off.breaker);
        return (
          <Stack
            component="li"
            key={off.breaker}
            direction="row"
            spacing={1.5}
            sx={{ alignItems: "center", minHeight: 48 }}
          >
            <Button
              className="no-print"
              variant={done ? "outlined" : "contained"}
              color={done ? "primary" : "act"}
              aria-pressed={done}
              onClick={() => toggle(off.breaker)}
              sx={{ minWidth: 84, minHeight: 48 }}
            >
              {done ? "is off" : "OFF"}
            </Button>
            <Box>
              <Typography sx={{ fontWeight: 700, fontSize: "1.15rem" }}>
                <span className="mono">{breakerName(house, off)}</span>
                {off.feeds === "" ? "" : ` · ${off.feeds}`}, {off.amps} A
              </Typography>
              <Typography sx={{ color: "text.secondary" }}>{off.said.join("; ")}</Typography>
            </Box>
          </Stack>
        );
      })}
    </Stack>
  );
}

function Tests({ answer }: { answer: Shutdown }) {
  return (
    <Stack spacing={1}>
      <Typography>{answer.heads.test}</Typography>
      {answer.tests.map((test) => (
        <Typography key={test.tag}>
          {test.name} (<span className="mono">{test.tag}</span>): between {test.between.join(", ")}:{" "}
          <strong>{answer.heads.expect}</strong>; a live source shows {test.live_from} to {test.live_to} V.
        </Typography>
      ))}
    </Stack>
  );
}

function Dark({ answer }: { answer: Shutdown }) {
  const minded = answer.also_dark.filter((d) => d.mind != null);
  return (
    <Stack spacing={1}>
      {minded.map((d) => (
        <Typography key={d.point}>
          <strong>
            Ask first: {d.name} ({d.tag})
          </strong>
          {d.mind != null && `, ${mindWord[d.mind]}`}
          {!d.proven && " (may)"}
        </Typography>
      ))}
      {answer.dark !== "" && <Typography>{answer.dark}</Typography>}
      {answer.may_go_dark !== "" && <Typography>Perhaps too: {answer.may_go_dark}</Typography>}
      {answer.also_dark.length === 0 && <Typography>Nothing else that is known.</Typography>}
    </Stack>
  );
}
