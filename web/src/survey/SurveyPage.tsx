import { Button, Dialog, DialogContent, DialogTitle, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Face } from "../api/client";
import { newId, useCommit } from "../api/edits";
import { useHouseView, useShownFace } from "../app/house";
import { useStance } from "../app/stance";
import { FaceBelow } from "../face/FaceBelow";
import { CloseButton } from "../parts/CloseButton";
import { PanelChoice } from "../parts/PanelChoice";
import { forgetHalf } from "../parts/useHalf";
import { count } from "../parts/words";
import { EveryPanel } from "./EveryPanel";
import { PanelDetails } from "./PanelDetails";
import { PanelForm } from "./PanelForm";
import { RoomSurvey } from "./RoomSurvey";
import { SpaceFields } from "./SpaceFields";

/** What is there: the panel's spaces, then rooms and their points. */
export function SurveyPage() {
  const { house, chosen } = useHouseView();
  const { stance } = useStance();
  const face = useShownFace();
  const panel = house.panels.find((p) => p.id === face?.panel);
  return (
    <Stack spacing={4}>
      <Steps face={face} />
      {stance !== "desk" && face !== undefined && (
        <Stack spacing={1}>
          <PanelChoice />
          <Typography>Tap a space to say what stands there.</Typography>
          <FaceBelow selected={chosen.breaker} entering />
        </Stack>
      )}
      {face !== undefined && <SpaceFields key={`spaces ${face.panel}`} face={face} folded={stance !== "desk"} />}
      {panel !== undefined && <PanelDetails key={`details ${panel.id}`} panel={panel} />}
      <Stack spacing={1.5} id="panels">
        {house.panels.length > 0 && <EveryPanel />}
        <AddPanel />
      </Stack>
      <RoomSurvey />
    </Stack>
  );
}

/** What comes after what: the spaces, the rooms, then tracing; each one tap away. */
function Steps({ face }: { face: Face | undefined }) {
  const { house } = useHouseView();
  const spaces = face?.spaces.length ?? 0;
  const open = face?.spaces.filter((s) => s.text === "" && s.covered_by == null).length ?? 0;
  const to = (id: string) => document.getElementById(id)?.scrollIntoView({ block: "start" });
  const traceable = house.breakers.length > 0 && house.points.length > 0;
  return (
    <Stack direction="row" component="nav" aria-label="Steps" sx={{ gap: 1, flexWrap: "wrap" }}>
      <Button variant="outlined" onClick={() => to("spaces-title")}>
        1 Spaces{house.panels.length > 1 && ` of ${face?.name}`}: {spaces - open} of {spaces}
      </Button>
      <Button variant="outlined" onClick={() => to("rooms-title")}>
        2 Rooms: {house.rooms.length}, {count(house.points.length, "point")}
      </Button>
      {traceable && (
        <Button variant={open === 0 ? "contained" : "outlined"} component={Link} to="../trace">
          3 Trace ›
        </Button>
      )}
    </Stack>
  );
}

function AddPanel() {
  const { id, house, setPanel } = useHouseView();
  const [open, setOpen] = useState(false);
  const commit = useCommit(id);
  const fedPanels = new Set(house.panels.map((p) => p.fed_by));
  const feeders = house.breakers
    .filter((b) => b.at.length > 1 && !fedPanels.has(b.id))
    .map((breaker) => ({
      breaker,
      name: `${house.panels.find((p) => p.id === breaker.panel)?.name} ${breaker.at.join("-")}, ${breaker.amps} A`,
    }));
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)} sx={{ alignSelf: "start" }}>
        {house.panels.length === 0 ? "Add the panel" : "Add another panel"}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="add-panel-title">
        <DialogTitle id="add-panel-title" sx={{ pr: 11 }}>
          A panel
        </DialogTitle>
        <CloseButton onClose={() => setOpen(false)} />
        <DialogContent sx={{ "& form": { pt: 1 } }}>
          <PanelForm
            form={`panel-${id}`}
            {...(house.panels.length > 0 && { feeders })}
            action="Add the panel"
            busy={commit.isPending}
            error={commit.error}
            onDone={(fields, _, sure) => {
              const panel = newId();
              const change = { type: "put-panel" as const, panel: { ...fields, id: panel, tandem: "none" as const } };
              commit.mutate(
                { change, base: null, careful: !sure },
                {
                  onSuccess: () => {
                    forgetHalf(`panel-${id}`);
                    setOpen(false);
                    setPanel(panel);
                  },
                },
              );
            }}
          />
        </DialogContent>
      </Dialog>
    </>
  );
}
