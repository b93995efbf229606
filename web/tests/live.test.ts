import { QueryClient } from "@tanstack/react-query";
import { beforeEach, expect, test, vi } from "vitest";
import { afterChange, listener } from "../src/api/live";
import { houseKey } from "../src/api/reads";

/** A connection as the browser gives it. */
class Connection extends EventTarget {
  closed = false;
  close() {
    this.closed = true;
  }
  opened() {
    this.dispatchEvent(new Event("open"));
  }
  broke() {
    this.dispatchEvent(new Event("error"));
  }
  tells(revision: number) {
    this.dispatchEvent(new MessageEvent("revision", { data: String(revision) }));
  }
}

function heard() {
  const queries = new QueryClient();
  queries.setQueryData([...houseKey(1), "document"], { revision: 4 });
  const reads = vi.spyOn(queries, "invalidateQueries").mockResolvedValue();
  const connection = new Connection();
  const { listen, stop } = listener(queries, 1, () => connection as unknown as EventSource);
  listen();
  return { queries, reads, connection, stop };
}

beforeEach(() => {
  vi.useFakeTimers();
});

test("a change is read once, however often it is told, and what is known is not read", () => {
  const { reads, connection, stop } = heard();
  connection.opened();
  connection.tells(4);
  expect(reads).toHaveBeenCalledTimes(0);
  connection.tells(5);
  connection.tells(5);
  expect(reads).toHaveBeenCalledTimes(1);
  stop();
  expect(connection.closed).toBe(true);
});

test("after a broken connection the same revision is read again: the read may have gone with it", () => {
  const { reads, connection, stop } = heard();
  connection.opened();
  connection.tells(5);
  connection.broke();
  connection.opened();
  connection.tells(5);
  expect(reads).toHaveBeenCalledTimes(2);
  stop();
});

test("while changes are told, an answered change is not read a second time; else it is at once", () => {
  const { queries, reads, connection, stop } = heard();
  afterChange(queries, 1, 5);
  expect(reads).toHaveBeenCalledTimes(1);
  connection.opened();
  afterChange(queries, 1, 5);
  connection.tells(5);
  queries.setQueryData([...houseKey(1), "document"], { revision: 5 });
  vi.runAllTimers();
  expect(reads).toHaveBeenCalledTimes(2);
  stop();
});

test("a change that is not told in time is read all the same", () => {
  const { queries, reads, connection, stop } = heard();
  connection.opened();
  afterChange(queries, 1, 5);
  expect(reads).toHaveBeenCalledTimes(0);
  vi.runAllTimers();
  expect(reads).toHaveBeenCalledTimes(1);
  stop();
});
