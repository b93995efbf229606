import { Button } from "@mui/material";
import { useState } from "react";
import { client, data, type Point } from "../api/client";
import { newId } from "../api/edits";
import { useHouseView } from "../house";
import { type Tracing, usualWay } from "./useTracing";

/** In the demo the tools answer by themselves, from the truth behind the house, with a tool's errors. */
export function ReadTester({ point, tracing }: { point: Point; tracing: Tracing }) {
  const { id, house } = useHouseView();
  const [silent, setSilent] = useState(false);
  const tool = (tracing.way ?? usualWay(point)) === "tester" ? "tester" : "lamp";
  const read = async () => {
    const path = { id, point: point.id };
    const said = await data(
      client.GET("/api/v1/houses/{id}/stand-in/{point}", { params: { path, query: { tool, nth: newId() } } }),
    ).catch(() => undefined);
    if (said?.observation?.what === "power") {
      tracing.answer(said.observation.seen);
    } else {
      setSilent(true);
    }
  };
  if (house.about.name !== "Thistledown School") {
    return null;
  }
  return (
    <Button disabled={silent} onClick={() => void read()}>
      {silent ? "No tool answers here" : "Read the tester"}
    </Button>
  );
}
