import { Button } from "@mui/material";
import { useState } from "react";
import { client, data, type Observation, type Point } from "../api/client";
import { newId } from "../api/edits";
import { useHasStandIns, useHouseView } from "../app/house";

interface Props {
  point: Point;
  tool: "tester" | "lamp" | "receiver" | "clamp" | "monitor";
  label: string;
  onRead: (observation: Observation) => void;
}

/** In the demo the tools answer by themselves, from the truth behind the house, with a tool's errors. */
export function ReadTool({ point, tool, label, onRead }: Props) {
  const { id } = useHouseView();
  const standIns = useHasStandIns();
  const [silent, setSilent] = useState(false);
  const read = async () => {
    const path = { id, point: point.id };
    const said = await data(
      client.GET("/api/v1/houses/{id}/stand-in/{point}", { params: { path, query: { tool, nth: newId() } } }),
    ).catch(() => undefined);
    if (said?.observation == null) {
      setSilent(true);
    } else {
      onRead(said.observation);
    }
  };
  if (!standIns) {
    return null;
  }
  return (
    <Button disabled={silent} onClick={() => void read()}>
      {silent ? "No tool answers here" : label}
    </Button>
  );
}
