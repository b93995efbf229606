import { Button, TextField } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { client, data, type MeasuredAt, type Quantity } from "../api/client";
import { useStored } from "../app/stored";

const readText = (value: unknown) => (typeof value === "string" ? value : undefined);

/** Where this device's bench meter is, on its own network. */
export function useMeterAddress() {
  return useStored("wayfinder.meter", "", readText);
}

/** The bench meter's address. */
export function MeterAddress() {
  const [address, setAddress] = useMeterAddress();
  return (
    <TextField
      label="Bench meter at"
      placeholder="192.168.1.20:5025"
      helperText="A meter that speaks SCPI over the network fills the fields; without one, type."
      value={address}
      onChange={(e) => setAddress(e.target.value)}
      slotProps={{ htmlInput: { className: "mono" } }}
    />
  );
}

/** Reads the bench meter at a place, where one is named. */
export function useReadMeter(house: number) {
  const [address] = useMeterAddress();
  const read = useMutation({
    mutationFn: async ({ place, quantity }: { place: MeasuredAt; quantity: Quantity }) => {
      const params = { path: { id: house } };
      const said = await data(client.POST("/api/v1/houses/{id}/meter", { params, body: { address, place, quantity } }));
      return said.value;
    },
  });
  return { read, there: address.trim() !== "" };
}

interface ReadProps {
  meter: ReturnType<typeof useReadMeter>;
  place: MeasuredAt;
  quantity: Quantity;
  label: string;
  onRead: (value: number) => void;
}

export function ReadIt({ meter, place, quantity, label, onRead }: ReadProps) {
  if (!meter.there) {
    return null;
  }
  return (
    <Button
      aria-label={`Read ${label} from the meter`}
      disabled={meter.read.isPending}
      onClick={() => meter.read.mutate({ place, quantity }, { onSuccess: onRead })}
    >
      Read it
    </Button>
  );
}
