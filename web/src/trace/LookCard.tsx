import { Box, Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import type { Point, Schemas, Seen, Way } from "../api/client";
import { useHouseView } from "../app/house";
import { pointName, roomName, wayWord } from "../parts/words";
import { FaultButton } from "./FaultButton";
import { ReadTool } from "./ReadTool";
import { StopButton } from "./StopButton";
import { isAnother, type Tracing, usingWay, usualWay } from "./useTracing";
import { WhereOnPlan } from "./WhereOnPlan";

const ways: Way[] = ["tester", "lamp", "light", "radio", "meter"];

/** With what to look, where that is not as the person likes. */
export const usingWord: Record<Exclude<Schemas["With"], "any">, string> = {
  "leave-lamp": "Plug a lamp in and leave it: next time a glance will do.",
  "see-lamp": "A lamp stands here: look from the door.",
  "leave-radio": "Plug the radio in and leave it playing, loud enough to be heard at the panel.",
  "hear-radio": "Do you hear it?",
  "known-lamp": "What was seen here does not fit together. Put in a lamp that you know burns, then look.",
  tester: "What was seen here does not fit together. Plug a tester in this time.",
  meter:
    "What was seen here does not fit together. Use a meter this time: its probes into the two slots, hands behind the guards.",
};

interface Props {
  phase: { point: Point; nth: number; of: number; using: Schemas["With"]; take: number[] };
  tracing: Tracing;
  /** For a thumb: the answers fill the lower half of the screen. */
  big?: boolean;
  /** Shows the whole room on one card instead; nothing where one point is left in it. */
  onWholeRoom?: (() => void) | undefined;
}

/** What tells without a tool, where nothing can be plugged in. */
export const lookFirst: Partial<Record<Point["kind"], string>> = {
  appliance: "Switch it on: does it run?",
  light: "Its wall switch on: does it light?",
  alarm: "Is its lamp lit? Not on its battery alone.",
};

/** The point to look at now, and its three answers. */
export function LookCard({ phase, tracing, big = false, onWholeRoom }: Props) {
  const { house } = useHouseView();
  const { point, nth, of, using } = phase;
  const radio = using === "leave-radio" || using === "hear-radio";
  const take = phase.take.map((p) => house.points.find((x) => x.id === p)?.tag).join(" ");
  return (
    <Paper
      variant="outlined"
      sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }}
      aria-live="polite"
      data-look={tracing.settling ? undefined : point.tag}
    >
      <Typography sx={{ color: "text.secondary" }}>
        {using === "hear-radio" ? "Listen at the panel" : `Look at point ${nth} of ${of}`}
      </Typography>
      <Typography variant="h2" sx={{ fontSize: big ? "1.9rem" : "1.5rem" }}>
        {using === "hear-radio" ? `The radio in ${roomName(house, point)}` : roomName(house, point)}
      </Typography>
      <Typography sx={{ fontSize: big ? "1.4rem" : "1.15rem" }} gutterBottom>
        <Box component="span" className="mono" sx={{ border: 1, px: 1, mr: 1, borderRadius: 1 }}>
          {point.tag}
        </Box>
        {pointName(point)} ({point.kind})
      </Typography>
      {take !== "" && (
        <Typography gutterBottom>
          Take along the lamp from <span className="mono">{take}</span>: settled.
        </Typography>
      )}
      {using !== "any" && (
        <Typography sx={{ fontWeight: 700 }} gutterBottom>
          {usingWord[using]}
        </Typography>
      )}
      {using === "any" && lookFirst[point.kind] !== undefined && (
        <Typography sx={{ fontWeight: 700 }} gutterBottom>
          {lookFirst[point.kind]}
        </Typography>
      )}
      {big && using !== "hear-radio" && <WhereOnPlan point={point} />}
      <Box
        sx={{
          my: 2,
          display: "grid",
          gap: 1.5,
          // In the hand the two common answers lie side by side under the thumb, above what the foot of the page covers.
          gridTemplateColumns: big ? "1fr 1fr" : "1fr 1fr 1fr",
          "& > :last-child": big ? { gridColumn: "1 / -1" } : {},
        }}
      >
        <Answer
          seen="live"
          note={radio ? "the radio plays" : "power is there"}
          tracing={tracing}
          big={big}
          hotkey="L"
        />
        <Answer seen="dead" note={radio ? "it is silent" : "no sign of power"} tracing={tracing} big={big} hotkey="D" />
        <Answer seen="unsure" note="cannot tell or reach" tracing={tracing} big={big} hotkey="N" />
      </Box>
      <Typography sx={{ color: "text.secondary", mb: 1.5 }}>
        DEAD is a sign for the map, never a promise that it is safe to touch.
      </Typography>
      <Stack direction="row" spacing={1.5} sx={{ alignItems: "center", flexWrap: "wrap", rowGap: 1 }}>
        {(using === "any" || isAnother(using)) && (
          <TextField
            select
            label="Looked with"
            value={tracing.way ?? usingWay[using] ?? usualWay(point)}
            onChange={(e) => tracing.setWay(e.target.value as Way)}
            sx={{ minWidth: 170 }}
          >
            {ways.map((way) => (
              <MenuItem key={way} value={way}>
                {wayWord[way]}
              </MenuItem>
            ))}
          </TextField>
        )}
        <FaultButton point={point} tracing={tracing} />
        <ReadTool
          point={point}
          tool={(tracing.way ?? usualWay(point)) === "tester" ? "tester" : "lamp"}
          label="Read the tester"
          onRead={(said) => said.what === "power" && tracing.answer(said.seen)}
        />
        {onWholeRoom !== undefined && (
          <Button variant="outlined" onClick={onWholeRoom}>
            The whole room on one card
          </Button>
        )}
        <Button onClick={tracing.endTour} disabled={tracing.busy}>
          End this tour
        </Button>
        <StopButton tracing={tracing} />
      </Stack>
    </Paper>
  );
}

const answerWord: Record<Seen, string> = { live: "LIVE", dead: "DEAD", unsure: "NOT SURE" };

interface AnswerProps {
  seen: Seen;
  note: string;
  hotkey: string;
  tracing: Tracing;
  big: boolean;
}

function Answer({ seen, note, hotkey, tracing, big }: AnswerProps) {
  const filled = seen !== "unsure";
  return (
    <Button
      variant={filled ? "contained" : "outlined"}
      disabled={tracing.busy}
      onClick={() => tracing.answer(seen)}
      sx={{
        minHeight: big && filled ? 104 : 60,
        flexDirection: "column",
        lineHeight: 1.2,
        // Live is filled, dead is framed twice: told by shape as well as by word.
        ...(seen === "dead"
          ? {
              bgcolor: "text.primary",
              color: "background.paper",
              border: "4px double",
              borderColor: "background.paper",
              "&:hover": { bgcolor: "text.primary" },
            }
          : {}),
      }}
    >
      <Box component="span" sx={{ fontSize: big ? "1.5rem" : "1.15rem", fontWeight: 800 }}>
        {answerWord[seen]}
      </Box>
      <Box component="span" sx={{ fontSize: "0.85rem", fontWeight: 400 }}>
        {big ? note : `${note} (${hotkey})`}
      </Box>
    </Button>
  );
}
