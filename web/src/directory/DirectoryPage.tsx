import { Alert, Button, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useSearchParams } from "react-router";
import { useDirectory } from "../api/reads";
import { useHouseView } from "../app/house";
import { count } from "../parts/words";
import { CardTab } from "./CardTab";
import { LabelsTab } from "./LabelsTab";
import { printPath, useBase } from "./prints";
import { ScheduleTab } from "./ScheduleTab";
import { WallTab } from "./WallTab";

const tabs = { card: "Card", labels: "Labels", schedule: "Schedule", wall: "Wall sheet" } as const;
type TabName = keyof typeof tabs;

/** Everything that is printed of a house, each as it will come out. */
export function DirectoryPage() {
  const { house } = useHouseView();
  const [search, setSearch] = useSearchParams();
  const asked = search.get("print");
  const shown: TabName = asked !== null && asked in tabs ? (asked as TabName) : "card";
  if (house.panels.length === 0) {
    return <Typography>Enter the panel under House first; what is printed is made from it.</Typography>;
  }
  return (
    <Stack spacing={2}>
      <Changed />
      <ToggleButtonGroup
        exclusive
        value={shown}
        onChange={(_, tab: TabName | null) => tab !== null && setSearch({ print: tab }, { replace: true })}
        aria-label="What is printed"
        sx={{ flexWrap: "wrap" }}
      >
        {Object.entries(tabs).map(([name, label]) => (
          <ToggleButton key={name} value={name} sx={{ minHeight: 44 }}>
            {label}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {shown === "card" && <CardTab />}
      {shown === "labels" && <LabelsTab />}
      {shown === "schedule" && <ScheduleTab />}
      {shown === "wall" && <WallTab />}
    </Stack>
  );
}

/** What of the prints is no longer so, and all of it anew as one file. */
function Changed() {
  const { id, house } = useHouseView();
  const directory = useDirectory(id).data;
  const base = useBase();
  const stale = (directory?.cards ?? []).filter((card) => (card.stale?.length ?? 0) > 0);
  const plates = (directory?.tags ?? []).filter((tag) => tag.stuck != null && tag.due);
  if (stale.length === 0 && plates.length === 0) {
    return null;
  }
  const names = stale.map((card) => house.panels.find((panel) => panel.id === card.panel)?.name ?? "");
  const said = [
    names.length > 0 ? `Out of date: the card of ${names.join(" and ")}` : "",
    plates.length > 0
      ? `${count(plates.length, "label")} that ${plates.length === 1 ? "says" : "say"} another circuit`
      : "",
  ].filter((part) => part !== "");
  return (
    <Alert
      severity="warning"
      icon={false}
      action={
        <Button
          component="a"
          href={printPath(id, "changed.pdf", { base })}
          target="_blank"
          rel="noreferrer"
          color="inherit"
          sx={{ minHeight: 44 }}
        >
          Print what changed
        </Button>
      }
    >
      {said.join("; ")}.
    </Alert>
  );
}
