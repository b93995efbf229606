import { useQuery } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useMemo } from "react";
import { client, data } from "../api/client";
import type { Stance } from "../app/stance";
import { HEARD_MS, HELLO_MS } from "../app/times";
import { author } from "../app/who";

const KEY = "wayfinder.device";
const HEARD = "wayfinder.heard.";
/** A device is out of reach when nothing was heard of it for so long, in seconds. */
const OUT_OF_REACH = 12;
/** After so long nobody waits for it any more. */
const GONE = 1800;

function device(): string {
  const known = localStorage.getItem(KEY);
  if (known !== null) {
    return known;
  }
  const made = Array.from(crypto.getRandomValues(new Uint8Array(8)), (b) => b.toString(16).padStart(2, "0")).join("");
  localStorage.setItem(KEY, made);
  return made;
}

export interface Absent {
  who: string;
  since: Date;
}

/** Who is at work in a house, as this device has heard. */
export interface Presence {
  /** This device is itself out of reach, */
  cut: boolean;
  /** and heard something last then. */
  heard?: Date;
  /** Somebody stands at the panel with another device. */
  panelManned: boolean;
  /** Walkers nothing was heard of. */
  absent: Absent[];
}

/** When the house was heard of last, also before this page was loaded anew: what is shown then is of that time. */
function heardLast(house: number, updated: number): { heard?: Date } {
  const before = localStorage.getItem(HEARD + house);
  return updated > 0 ? { heard: new Date(updated) } : before === null ? {} : { heard: new Date(before) };
}

const PresenceContext = createContext<Presence>({ cut: false, panelManned: false, absent: [] });

/** Who else is at work in this house, and who is out of reach. */
export function usePresence(): Presence {
  return useContext(PresenceContext);
}

/**
 * Says that this device is there; hears who else is. What is shown within is drawn anew only where that changed: a hello
 * every few seconds is nobody's business.
 */
export function Present({ house, stance, children }: { house: number; stance: Stance; children: ReactNode }) {
  const mine = device();
  const heard = useQuery({
    queryKey: ["presence", house, stance],
    refetchInterval: HELLO_MS,
    retry: false,
    queryFn: async () => {
      const here = await data(
        client.POST("/api/v1/houses/{id}/presence", {
          params: { path: { id: house } },
          body: { device: mine, stance, who: author() },
          signal: AbortSignal.timeout(HEARD_MS),
        }),
      );
      localStorage.setItem(HEARD + house, new Date().toISOString());
      return here;
    },
  });
  const others = (heard.data ?? []).filter((p) => p.device !== mine && p.silent < GONE);
  const walkers = others.filter((p) => p.stance === "rooms");
  const absent: Absent[] = walkers
    .filter((p) => p.silent > OUT_OF_REACH)
    .map((p) => ({ who: p.who, since: new Date(heard.dataUpdatedAt - p.silent * 1000) }));
  const presence: Presence = {
    cut: heard.isError,
    ...(heard.isError && heardLast(house, heard.dataUpdatedAt)),
    panelManned: others.some((p) => p.stance === "panel"),
    absent,
  };
  // Times are told to the minute.
  const told = JSON.stringify(presence).replaceAll(/:\d\d\.\d+Z/g, "");
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is the same as long as it tells the same
  const shown = useMemo(() => presence, [told]);
  return <PresenceContext value={shown}>{children}</PresenceContext>;
}
