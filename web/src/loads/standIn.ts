import { client, data, type Instrument, type MeasuredAt, type Quantity } from "../api/client";

/** What an instrument shows in the demo, from the truth behind the house, with its errors; nothing where it cannot be used. */
export async function standInReads(
  id: number,
  instrument: Instrument,
  place: MeasuredAt,
  quantity: Quantity,
  on: number[],
  nth: number,
  wattHours?: number,
) {
  const body = { instrument, place, quantity, on, nth, watt_hours: wattHours ?? null };
  const said = await data(
    client.POST("/api/v1/houses/{id}/stand-in-reading", { params: { path: { id } }, body }),
  ).catch(() => undefined);
  return said;
}
