import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import { author } from "../app/who";
import { issued, secondTries } from "./again";
import {
  type Change,
  client,
  data,
  type Event,
  Problem,
  problemOf,
  type Schemas,
  type ShelfWord,
  type Spot,
} from "./client";
import { afterChange } from "./live";
import { houseKey } from "./reads";

const changesTried = secondTries<{ id: number; change: Change }>("changes");

let last = 0;

/** An id for a new thing: grows with time, below 2^53, and two devices hardly ever make the same. */
export function newId(count = 1): number {
  const chance = crypto.getRandomValues(new Uint16Array(1))[0] ?? 0;
  last = Math.max(last + 1, Date.now() * 4096 + (chance % 2048));
  const id = last;
  last += count - 1;
  issued(id, count);
  return id;
}

/** Revisions that this device made itself with nobody else in between, by house. */
const ownRevisions = new Map<number, number>();

/** The revision that is drawn, by house: what was read is drawn a little later where a finger goes before. */
const drawnRevisions = new Map<number, number>();

/** A house stands on screen as it was at a revision; nothing where it is shown no more. */
export function drawn(id: number, revision: number | undefined) {
  if (revision === undefined) {
    drawnRevisions.delete(id);
  } else {
    drawnRevisions.set(id, revision);
  }
}

function revisionSeen(queries: QueryClient, id: number): number {
  const read = queries.getQueryData<{ revision: number }>([...houseKey(id), "document"])?.revision ?? 0;
  const shown = drawnRevisions.get(id) ?? read;
  return Math.max(shown, ownRevisions.get(id) ?? 0);
}

/** The revision that is on screen now: what somebody who begins to type has before their eyes. */
export function useRevisionSeen(id: number): () => number {
  const queries = useQueryClient();
  return () => revisionSeen(queries, id);
}

/** A change, and the revision it was made on where that is not the newest on screen; none where nothing stands against it. */
type Making = Change | { change: Change; base: number | null; careful?: boolean };

/** Makes changes, one after the other, each on the revision this device has seen. */
export function useCommit(id: number) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: `house-${id}` },
    mutationFn: async (making: Making) => {
      const made = "change" in making ? making : { change: making, base: revisionSeen(queries, id) };
      const { base, careful = false } = made;
      const { body, key } = changesTried.sending({ id, change: made.change });
      const done = await keepingLost(
        changesTried,
        body,
        key,
        data(
          client.POST("/api/v1/houses/{id}/changes", {
            params: { path: { id }, header: { "Idempotency-Key": key } },
            body: { base, author: author(), change: body.change, careful },
          }),
        ),
      );
      // Only where nobody else came between is the new revision all seen.
      if (base !== null && done.revision === base + 1) {
        ownRevisions.set(id, done.revision);
      }
      return done;
    },
    onSettled: (done) => afterChange(queries, id, done?.revision),
  });
}

/** The answer; where it is lost, the request is kept for a second try. */
async function keepingLost<T, A>(tries: ReturnType<typeof secondTries<T>>, body: T, key: string, answer: Promise<A>) {
  try {
    const done = await answer;
    tries.answered(body);
    return done;
  } catch (error) {
    // What failed on its way may have been done.
    if (error instanceof Problem && (error.status === 0 || error.status >= 500)) {
      tries.lost(body, key);
    } else {
      tries.answered(body);
    }
    throw error;
  }
}

const undoTried = secondTries<{ id: number; revisions: number[] }>("undo");

/** Takes back changes as one: of these revisions, or this author's newest. */
export function useUndo(id: number) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: `house-${id}` },
    mutationFn: (which?: number | number[]) => {
      const revisions = which === undefined ? [] : [which].flat();
      const { body, key } = undoTried.sending({ id, revisions });
      const sent = client.POST("/api/v1/houses/{id}/undo", {
        params: { path: { id }, header: { "Idempotency-Key": key } },
        body: { author: author(), revisions },
      });
      return keepingLost(undoTried, body, key, data(sent));
    },
    onSettled: (done) => afterChange(queries, id, done?.revision),
  });
}

/** Puts a house on a shelf: in use, put away, thrown away. */
export function useShelf() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ id, shelf }: { id: number; shelf: ShelfWord }) => {
      const answer = await client.PUT("/api/v1/houses/{id}/shelf", { params: { path: { id } }, body: { shelf } });
      if (answer.error !== undefined) {
        throw problemOf(answer.response.status, answer.error);
      }
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ["houses"] }),
  });
}

/** Adds a picture: the file goes as it is, the server writes it anew. */
export function useAddPicture(id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ file, of, which }: { file: File; of: string; which: string }) => {
      const query = new URLSearchParams({ of, which, new: String(newId()), author: author() });
      const sent = fetch(`/api/v1/houses/${id}/pictures?${query}`, { method: "POST", body: file });
      const answer = await sent.catch(() => {
        throw new Problem(0, "No connection", "Wayfinder cannot be reached. Nothing was lost; try again.");
      });
      if (!answer.ok) {
        throw problemOf(answer.status, await answer.json().catch(() => ({})));
      }
    },
    onSettled: () => queries.invalidateQueries({ queryKey: houseKey(id) }),
  });
}

/** Adds an energy record: the utility's file goes as it is. */
export function useAddEnergy(id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (file: File) => {
      const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
      const query = new URLSearchParams({ name: file.name, zone, new: String(newId()), author: author() });
      const headers = { "Content-Type": "application/octet-stream" };
      const sent = fetch(`/api/v1/houses/${id}/energy?${query}`, { method: "POST", body: file, headers });
      const answer = await sent.catch(() => {
        throw new Problem(0, "No connection", "Wayfinder cannot be reached. Nothing was lost; try again.");
      });
      if (!answer.ok) {
        throw problemOf(answer.status, await answer.json().catch(() => ({})));
      }
    },
    onSettled: () => queries.invalidateQueries({ queryKey: houseKey(id) }),
  });
}

/** Notes a reading, with its author and the time. */
export function useNoteReading(id: number) {
  const commit = useCommit(id);
  const note = (reading: Omit<Schemas["Reading"], "id" | "time" | "who">, done?: (reading: number) => void) => {
    const made = newId();
    const whole = { ...reading, id: made, time: new Date().toISOString(), who: author() };
    commit.mutate({ type: "note-reading", reading: whole }, { onSuccess: () => done?.(made) });
  };
  return { note, busy: commit.isPending, error: commit.error };
}

/** Writes a line into the logbook. */
export function useLogEvent(id: number) {
  const commit = useCommit(id);
  const write = (event: Event, options?: { note?: string; onSuccess?: () => void }) =>
    commit.mutate(
      {
        type: "log",
        entry: { id: newId(), time: new Date().toISOString(), who: author(), event, note: options?.note ?? "" },
      },
      options?.onSuccess === undefined ? {} : { onSuccess: options.onSuccess },
    );
  return { write, busy: commit.isPending, error: commit.error };
}

/** Reads a length as people type it: `12'6"`, `3.2 m`. */
export async function readLength(id: number, text: string): Promise<number> {
  const read = await data(client.GET("/api/v1/houses/{id}/length", { params: { path: { id }, query: { text } } }));
  return read.inches ?? 0;
}

/** Reads a place in a room as people type it: `north 3'6"`. */
export async function readSpot(id: number, text: string): Promise<Spot | null> {
  const query = { text, place: true };
  const read = await data(client.GET("/api/v1/houses/{id}/length", { params: { path: { id }, query } }));
  return read.spot ?? null;
}

const housesTried = secondTries<Schemas["NewHouse"]>("houses");

/** Makes a house, once: a second try after a lost answer is the same request. */
export function makeHouse(house: Schemas["NewHouse"]) {
  const { body, key } = housesTried.sending(house);
  const sent = client.POST("/api/v1/houses", { params: { header: { "Idempotency-Key": key } }, body });
  return keepingLost(housesTried, body, key, data(sent));
}
