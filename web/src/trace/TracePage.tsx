import { Alert, Button } from "@mui/material";
import { Link } from "react-router";
import { useHouseView } from "../app/house";
import { isMeasuring } from "./crew";
import { DoubtList } from "./DoubtList";
import { MapTable } from "./MapTable";
import { Now } from "./Now";
import { RunCard } from "./RunCard";
import { useTracing } from "./useTracing";

/** Tracing at the desk: what to do now, and the map as it fills in. */
export function TracePage() {
  const { id, house } = useHouseView();
  const tracing = useTracing();
  if (isMeasuring(house)) {
    return (
      <>
        <Alert
          severity="info"
          action={
            <Button color="inherit" component={Link} to={`/houses/${id}/measure`}>
              Go to it
            </Button>
          }
        >
          A round of measuring goes on. Tracing switches breakers off: end the round first.
        </Alert>
        <DoubtList />
        <MapTable />
      </>
    );
  }
  return (
    <>
      <RunCard tracing={tracing} />
      <Now tracing={tracing} />
      <DoubtList />
      <MapTable />
    </>
  );
}
