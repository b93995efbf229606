import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { TOLD_MS } from "../app/times";
import { houseKey } from "./reads";

/** Houses whose changes are told as they happen. */
const told = new Set<number>();

function known(queries: QueryClient, id: number): number {
  return queries.getQueryData<{ revision: number }>([...houseKey(id), "document"])?.revision ?? -1;
}

function readAnew(queries: QueryClient, id: number) {
  void queries.invalidateQueries({ queryKey: houseKey(id) });
}

/**
 * A change of this device was answered. While changes are told as they happen, this one is too, to this device as to all
 * others: nothing is read twice.
 */
export function afterChange(queries: QueryClient, id: number, revision: number | undefined) {
  if (revision === undefined || !told.has(id)) {
    readAnew(queries, id);
    return;
  }
  setTimeout(() => known(queries, id) < revision && readAnew(queries, id), TOLD_MS);
}

/** Hears of a house's changes, and has what is shown of it read anew. Tells how to listen, and how to stop. */
export function listener(queries: QueryClient, id: number, open: (url: string) => EventSource) {
  let events: EventSource | undefined;
  let heard = -1;
  const stop = () => {
    told.delete(id);
    events?.close();
  };
  const listen = () => {
    events?.close();
    events = open(`/api/v1/houses/${id}/events`);
    events.addEventListener("open", () => {
      told.add(id);
      // What was read before the connection broke may never have come: the same revision is worth a read again.
      heard = -1;
    });
    events.addEventListener("error", () => told.delete(id));
    events.addEventListener("revision", (event) => {
      const revision = Number(event.data);
      if (revision !== heard && known(queries, id) !== revision) {
        heard = revision;
        readAnew(queries, id);
      }
    });
  };
  return { listen, stop };
}

/** Reads what is shown of a house anew when it was changed, here or elsewhere. */
export function useLive(id: number) {
  const queries = useQueryClient();
  useEffect(() => {
    // A page kept for "back" would hold its connection, and a browser opens only six to one place.
    const { listen, stop } = listener(queries, id, (url) => new EventSource(url));
    listen();
    window.addEventListener("pagehide", stop);
    window.addEventListener("pageshow", listen);
    return () => {
      window.removeEventListener("pagehide", stop);
      window.removeEventListener("pageshow", listen);
      stop();
    };
  }, [id, queries]);
}
