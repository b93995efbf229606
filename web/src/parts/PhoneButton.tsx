import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { useSession } from "../api/reads";

/** How a phone joins. */
export function PhoneButton() {
  const [open, setOpen] = useState(false);
  const session = useSession();
  if (session.data === undefined || !session.data.here) {
    return null;
  }
  const { code, addresses } = session.data;
  const port = window.location.port === "" ? "" : `:${window.location.port}`;
  return (
    <>
      <Button onClick={() => setOpen(true)}>Phone</Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="phone-title">
        <DialogTitle id="phone-title">Take a phone along</DialogTitle>
        <DialogContent>
          <Typography gutterBottom>On the phone, on the same Wi-Fi, open</Typography>
          {addresses.map((address) => (
            <Typography key={address} className="mono" sx={{ fontSize: "1.2rem" }} gutterBottom>
              http://{address}
              {port}
            </Typography>
          ))}
          <Typography gutterBottom>and give the join code</Typography>
          <Typography className="mono" sx={{ fontSize: "2rem", letterSpacing: 4 }} gutterBottom>
            {code}
          </Typography>
          <Typography sx={{ color: "text.secondary" }}>
            If the phone finds nothing there, the program listens to this computer only: start it with{" "}
            <span className="mono">--listen 0.0.0.0:8420</span>.
          </Typography>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setOpen(false)}>Close</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
