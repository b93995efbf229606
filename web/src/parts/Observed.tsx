import type { Evidence } from "../api/client";
import { useHouseView } from "../app/house";
import { faultWord, seenWord, wayWord } from "./words";

/** An observation in words. */
export function Observed({ piece }: { piece: Evidence }) {
  const { house } = useHouseView();
  const at = (breaker: number) => {
    const b = house.breakers.find((x) => x.id === breaker);
    const panel = house.panels.find((p) => p.id === b?.panel);
    return house.panels.length > 1 ? `${panel?.name} ${b?.at.join("-")}` : (b?.at.join("-") ?? "?");
  };
  const { observation } = piece;
  switch (observation.what) {
    case "pointed":
      return <>The receiver pointed at {at(observation.at)}</>;
    case "wire":
      return <>The wire was followed to {at(observation.at)}</>;
    case "rise":
      return (
        <>
          The current of {at(observation.at)} rose by {observation.rose} A with a load of {observation.expected} A
        </>
      );
    case "tried": {
      const thing = { switch: "wall switch", lamp: "lamp", device: "ground-fault device" }[observation.cause];
      return <>{`Its ${thing} was tried: it had been ${observation.was_off ? "off" : "on"}`}</>;
    }
    case "fault":
      return <>Fault: {faultWord[observation.fault]}</>;
    case "power": {
      const off = observation.off.length === 0 ? "everything on" : `off: ${observation.off.map(at).join(", ")}`;
      return (
        <>
          <strong>{seenWord[observation.seen]}</strong> by {wayWord[observation.how]}, {off}
        </>
      );
    }
  }
}
