import { DoubtList } from "../trace/DoubtList";
import { MapTable } from "../trace/MapTable";
import { Now } from "../trace/Now";
import { RunCard } from "../trace/RunCard";
import { useTracing } from "../trace/useTracing";

/** Tracing at the desk: what to do now, and the map as it fills in. */
export function TracePage() {
  const tracing = useTracing();
  return (
    <>
      <RunCard tracing={tracing} />
      <Now tracing={tracing} />
      <DoubtList />
      <MapTable />
    </>
  );
}
