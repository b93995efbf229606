import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import { useEffect, useSyncExternalStore } from "react";
import { AGAIN_MS } from "../app/times";
import { type Change, client, data, Problem } from "./client";
import { afterChange } from "./live";

/** A change that waits to be sent. Its key makes that it counts once, however often it is sent. */
export interface Waiting {
  nth?: number;
  house: number;
  key: string;
  /** The revision that was on screen; nothing where no other change can stand against it. */
  base: number | null;
  author: string;
  change: Change;
  /** What the server said against it. */
  refused?: string;
}

/** A change that the server has taken, but this device may not have read back yet. */
export interface Sent extends Waiting {
  revision: number;
}

interface Kept {
  waiting: readonly Waiting[];
  /** The newest last. */
  sent: readonly Sent[];
}

interface Schema extends DBSchema {
  waiting: { key: number; value: Waiting };
}

/** So many sent ones are remembered: more than a tour has. */
const REMEMBERED = 400;

/** Sends a change and tells the revision it made. */
export type Post = (waiting: Waiting) => Promise<number>;

const post: Post = async ({ house, key, base, author, change }) => {
  const { revision } = await data(
    client.POST("/api/v1/houses/{id}/changes", {
      params: { path: { id: house }, header: { "Idempotency-Key": key } },
      body: { base, author, change, careful: false },
    }),
  );
  return revision;
};

/** Changes kept in the browser's own database, sent one after the other in their order. */
export class Outbox {
  private readonly database: Promise<IDBPDatabase<Schema>> = openDB<Schema>("wayfinder-outbox", 1, {
    upgrade: (db) => void db.createObjectStore("waiting", { keyPath: "nth", autoIncrement: true }),
  });
  private kept: Kept = { waiting: [], sent: [] };
  private readonly listeners = new Set<() => void>();
  private sending: Promise<void> | undefined;
  queries: QueryClient | undefined;

  /** What was kept when the page was last open is read and sent at once. */
  constructor(private readonly post: Post) {
    void this.reload().then(() => this.send());
  }

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly all = () => this.kept;

  /** Reads what waits; one just sent moves over to the others in the same breath, so that it is never in neither. */
  private async reload(sent?: Sent) {
    const waiting = await (await this.database).getAll("waiting");
    this.kept = { waiting, sent: sent === undefined ? this.kept.sent : [...this.kept.sent, sent].slice(-REMEMBERED) };
    for (const listener of this.listeners) {
      listener();
    }
  }

  /** Keeps a change, then sends it; it is kept before this ends. */
  async put(waiting: Waiting) {
    await (await this.database).add("waiting", waiting);
    await this.reload();
    void this.send();
  }

  /** Forgets a change that was refused. */
  async drop(nth: number) {
    await (await this.database).delete("waiting", nth);
    await this.reload();
  }

  /** Sends all that waits, unless that is under way: two at once would change the order. */
  send(): Promise<void> {
    this.sending ??= this.sendAll().finally(() => {
      this.sending = undefined;
    });
    return this.sending;
  }

  private async sendAll() {
    for (let next = this.next(); next !== undefined; next = this.next()) {
      if (!(await this.sendOne(next))) {
        return;
      }
    }
  }

  private next() {
    return this.kept.waiting.find((w) => w.refused === undefined);
  }

  /** True where the server has answered, one way or the other. */
  private async sendOne(waiting: Waiting): Promise<boolean> {
    const db = await this.database;
    let sent: Sent | undefined;
    try {
      sent = { ...waiting, revision: await this.post(waiting) };
      await db.delete("waiting", waiting.nth ?? 0);
    } catch (error) {
      if (!(error instanceof Problem) || error.status === 0 || error.status >= 500 || error.status === 401) {
        return false;
      }
      // Refused for good: it is shown, and kept until somebody has read it.
      await db.put("waiting", { ...waiting, refused: error.message });
    }
    await this.reload(sent);
    if (this.queries !== undefined) {
      afterChange(this.queries, waiting.house, sent?.revision);
    }
    return true;
  }
}

let outbox: Outbox | undefined;

/** The one outbox of this device. */
function theOutbox(): Outbox {
  if (outbox === undefined) {
    const made = new Outbox(post);
    window.addEventListener("online", () => void made.send());
    setInterval(() => void made.send(), AGAIN_MS);
    outbox = made;
  }
  return outbox;
}

/** What of a house waits to be sent or was sent, and a way to add to it. */
export function useOutbox(house: number) {
  const box = theOutbox();
  const queries = useQueryClient();
  useEffect(() => {
    box.queries = queries;
  }, [box, queries]);
  const kept = useSyncExternalStore(box.subscribe, box.all);
  return {
    waiting: kept.waiting.filter((w) => w.house === house),
    sent: kept.sent.filter((s) => s.house === house),
    put: (change: Change, base: number | null, author: string, key: string) =>
      box.put({ house, key, base, author, change }),
    drop: (nth: number) => box.drop(nth),
  };
}
