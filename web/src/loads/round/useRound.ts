import type { Change, Round, RoundAct, Run, ToRead } from "../../api/client";
import { newId, useCommit } from "../../api/edits";
import { newKey } from "../../api/newKey";
import { useOutbox } from "../../api/outbox";
import { useRoundNow } from "../../api/reads";
import { useHouseView } from "../../app/house";
import { author } from "../../app/who";
import { afterChanges, placeKey } from "./progress";

/** The round of measuring that goes on, with what this device has kept of it, and how to go on. */
export function useRound() {
  const { id, house } = useHouseView();
  const outbox = useOutbox(id);
  const commit = useCommit(id);
  const run: Run | undefined = house.runs?.find((r) => r.id === house.run_now && r.round != null);
  const read = useRoundNow(id, run !== undefined);
  // Kept changes stand beside whatever others do meanwhile: none of them can be in the way of another.
  const put = (change: Change) => void outbox.put(change, null, author(), newKey());
  const begin = (people: number, only: number | undefined, on: number[]) =>
    commit.mutate({
      type: "put-run",
      run: {
        id: newId(),
        begun: new Date().toISOString(),
        crew: { people, testers: 1 },
        round: { ready: false, on, ...(only === undefined ? {} : { only }) },
      },
    });
  if (run?.round == null) {
    return { going: undefined, begin, busy: commit.isPending, error: commit.error };
  }
  const heard = house.revision;
  const kept = [...outbox.sent.filter((s) => s.revision > heard), ...outbox.waiting.filter((w) => !w.refused)];
  const mine = kept.map((k) => k.change);
  const round: Round = afterChanges(run.round, mine);
  const act = (what: RoundAct) => put({ type: "go-round", run: run.id, act: what });
  const places: ToRead[] = read.data?.places ?? [];
  const done = new Set((round.done ?? []).map(placeKey));
  const now = places.find((p) => !done.has(placeKey(p.at)));
  const on = new Set(round.on ?? []);
  const going = {
    run,
    round,
    places,
    now,
    nth: done.size + 1,
    isOn: (load: number) => on.has(load),
    switched: (loads: number[], isOn: boolean) => act({ what: "switched", loads, on: isOn }),
    allOn: () => act({ what: "ready" }),
    ask: (load: number | null) => act({ what: "asked", load }),
    pass: (place: ToRead) => act({ what: "passed", at: place.at }),
    back: () => act({ what: "back" }),
    /** Notes what was read at a place; tells the reading's number. */
    note: (place: ToRead, value: number): number => {
      const reading = newId();
      const { place: at, of } = place.at;
      put({
        type: "note-reading",
        reading: {
          id: reading,
          time: new Date().toISOString(),
          who: author(),
          place: at,
          quantity: of == null ? { quantity: "amps" } : { quantity: "amps", of },
          value,
          instrument: "clamp",
          span: "spot",
          // What is on and known to hang somewhere, as far as this device has heard.
          on: (read.data?.on ?? []).filter((load) => on.has(load)),
        },
      });
      return reading;
    },
    end: () => put({ type: "end-run", run: run.id, time: new Date().toISOString() }),
  };
  return { going, begin, busy: commit.isPending || read.data === undefined, error: commit.error ?? read.error };
}

export type Going = NonNullable<ReturnType<typeof useRound>["going"]>;
