import { useDoor, useSession } from "../api/reads";

/** What is asked of a print; what is not said is left out. */
type Asked = Record<string, string | number | boolean | undefined>;

/** The address of a print of a house: `labels.pdf` and the like. */
export function printPath(house: number, file: string, asked: Asked = {}): string {
  return `/api/v1/houses/${house}/print/${file}${query(asked)}`;
}

/** The same of a panel's card. */
export function cardPath(house: number, panel: number, file: string, asked: Asked = {}): string {
  return `/api/v1/houses/${house}/panels/${panel}/${file}${query(asked)}`;
}

function query(asked: Asked): string {
  const said = Object.entries(asked).flatMap(([name, value]) =>
    value === undefined || value === "" || value === false ? [] : [[name, String(value)]],
  );
  const text = new URLSearchParams(said).toString();
  return text === "" ? "" : `?${text}`;
}

/** Where a phone opens this house: the address of this page, or where it is the computer's own, one that the door tells. */
export function useBase(): string | undefined {
  const here = useSession().data?.here === true;
  const ways = useDoor().data;
  const own = /^https?:\/\/(localhost|127\.|\[::1\])/.test(window.location.origin);
  return own && here ? ways?.plain[0]?.address : own ? undefined : window.location.origin;
}
