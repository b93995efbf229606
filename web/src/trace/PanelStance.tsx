import { Alert, Box, Button, Stack, Typography } from "@mui/material";
import { useEffect, useMemo } from "react";
import { useHouseView, useMap, useShownFace } from "../app/house";
import { useStance } from "../app/stance";
import { FaceBelow } from "../face/FaceBelow";
import { PanelChoice } from "../parts/PanelChoice";
import { named, pointName, roomName, timeOfDay } from "../parts/words";
import { Handles } from "./Handles";
import { Now } from "./Now";
import { orders } from "./OrderCard";
import { usePresence } from "./presence";
import { RunCard } from "./RunCard";
import { useTracing } from "./useTracing";
import { useAwake, useTold, useVoice } from "./voice";

/** At the panel: which handles to move now, large, with the panel's face below. */
export function PanelStance() {
  const { house, setPanel, chosen, choose } = useHouseView();
  const presence = usePresence();
  const beliefs = useMap();
  const face = useShownFace();
  const tracing = useTracing();
  const { setStance } = useStance();
  const { phase } = tracing;
  const [voice] = useVoice();
  useAwake(tracing.run !== undefined);
  const move = (word: string, list: { at: string }[]) =>
    list.length === 0 ? "" : `${word} ${list.map((b) => b.at.replaceAll("-", " and ")).join(", ")}. `;
  useTold(
    phase.name === "order" ? move("On:", phase.advice.switch_on) + move("Off:", phase.advice.switch_off) : "",
    voice,
  );
  const walking = phase.name === "look" || phase.name === "ask";
  const waiting = phase.name === "waiting" && tracing.crew.people === 2;
  const advice = phase.name === "order" || phase.name === "done" ? phase.advice : undefined;
  const shownOrders = useMemo(() => advice && orders(advice), [advice]);
  // The face shown is that of the panel where the first handle has to move.
  const first = advice?.switch_off[0] ?? advice?.switch_on[0];
  const panelToMove = house.breakers.find((b) => b.id === first?.breaker)?.panel;
  useEffect(() => {
    if (panelToMove !== undefined) {
      setPanel(panelToMove);
    }
  }, [panelToMove, setPanel]);
  const belief = beliefs?.breakers.find((b) => b.breaker === chosen.breaker);
  const shown = face?.breakers.find((b) => b.breaker === chosen.breaker);
  // Somebody alone, with no tour under way, has no walker to wait for.
  const walkers = tracing.crew.people === 2 || house.step != null ? presence.absent : [];
  const off = house.breakers.filter((b) => b.handle === "off").map((b) => named(house, b));
  return (
    <Stack component="main" spacing={2} sx={{ p: 1.5, maxWidth: 620, mx: "auto" }}>
      {walkers.map((a) => (
        <Alert key={a.who} severity="warning" role="status">
          The walker ({a.who}) is out of reach since {timeOfDay(a.since)}. Leave the handles as they are; answers come
          when the phone is back.
        </Alert>
      ))}
      {walking || waiting ? (
        <Box>
          <Typography variant="h2" gutterBottom>
            {walking && off.length === 0 ? "Leave all handles on" : "Leave the handles as they are"}
          </Typography>
          {walking && (
            <Typography gutterBottom>
              Somebody looks at {roomName(house, phase.point)}, {pointName(phase.point)} (
              <span className="mono">{phase.point.tag}</span>)
              {phase.name === "look" && `, point ${phase.nth} of ${phase.of}`}.
            </Typography>
          )}
          {walking && tracing.crew.people === 1 && (
            <Button
              variant="contained"
              color="act"
              size="large"
              fullWidth
              onClick={() => setStance("rooms")}
              sx={{ minHeight: 64, mb: 1.5, fontSize: "1.15rem" }}
            >
              Go to {roomName(house, phase.point)}
            </Button>
          )}
          <Handles word="Off now" list={off} moves={false} />
          {walking && (
            <Button variant="outlined" onClick={tracing.endTour} disabled={tracing.busy}>
              End this tour
            </Button>
          )}
        </Box>
      ) : (
        <Now tracing={tracing} big />
      )}
      <RunCard tracing={tracing} small />
      <PanelChoice />
      {belief !== undefined && (
        <Typography role="status" component="div">
          <strong>{belief.at}</strong> feeds {shown?.surely || "nothing that is proven"}
          {shown?.probably ? `; perhaps ${shown.probably}` : ""}
          {belief.others > 0 && `; ${belief.others} more not ruled out`}{" "}
          <Button variant="outlined" onClick={() => choose({ ...chosen, sheet: belief.breaker })}>
            It tripped, or more …
          </Button>
        </Typography>
      )}
      <FaceBelow selected={chosen.breaker} orders={shownOrders} />
    </Stack>
  );
}
