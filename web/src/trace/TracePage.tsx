import { DoubtList } from "./DoubtList";
import { MapTable } from "./MapTable";
import { Now } from "./Now";
import { RunCard } from "./RunCard";
import { useTracing } from "./useTracing";

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
