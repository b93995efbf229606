import { Alert, Box, Button, Container, Link, Paper, Stack, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link as To } from "react-router";
import { client, data, type Schemas } from "../api/client";
import { useDoor, useSession } from "../api/reads";
import { Mark } from "../parts/Mark";
import { ProblemNote } from "../parts/ProblemNote";

type Way = Schemas["WayIn"];

/** Lets phones in: at once by HTTP, and for the full way by HTTPS. On the computer with a picture for the phone's camera. */
export function PhonePage() {
  const session = useSession();
  const door = useDoor();
  const queries = useQueryClient();
  const open = useMutation({
    mutationFn: async (secure: boolean) => data(client.POST("/api/v1/door", { body: { secure } })),
    onSuccess: (view) => queries.setQueryData(["door"], view),
  });
  const here = session.data?.here === true;
  const { plain = [], secure = [] } = door.data ?? {};
  return (
    <Container component="main" maxWidth="sm" sx={{ py: { xs: 2, sm: 4 } }}>
      <Stack spacing={2.5}>
        <Stack direction="row" spacing={1.5} sx={{ alignItems: "center" }}>
          <Mark />
          <Typography variant="h1" sx={{ flexGrow: 1 }}>
            {here ? "Let a phone in" : "This phone"}
          </Typography>
          <Button component={To} to="/" sx={{ minHeight: 44 }}>
            To the houses
          </Button>
        </Stack>
        <ProblemNote error={session.error ?? door.error ?? open.error} />
        {here && door.data !== undefined && (
          <Step nth={1} title="Join">
            {plain.length === 0 ? (
              <>
                <Typography gutterBottom>Only this computer gets in so far.</Typography>
                <Button
                  variant="contained"
                  color="act"
                  disabled={open.isPending}
                  onClick={() => open.mutate(false)}
                  sx={{ minHeight: 48 }}
                >
                  Let phones on this Wi-Fi in
                </Button>
              </>
            ) : (
              <>
                <Typography gutterBottom>
                  On the same Wi-Fi, point the phone’s camera at this and open what it offers.
                </Typography>
                {plain.map((way) => (
                  <Shown key={way.address} way={way} />
                ))}
                <Typography>
                  Or type the address, and the join code <strong className="mono">{session.data?.code}</strong>.
                </Typography>
              </>
            )}
          </Step>
        )}
        {here && door.data?.secure_port != null && secure.length === 0 && (
          <Alert severity="warning">
            The secure connection is on, but this computer has no address of a home’s network (10. …, 172.16. …,
            192.168. …): only such can be vouched for. Phones still get in by the way above.
          </Alert>
        )}
        {here && plain.length > 0 && door.data?.secure_port == null && (
          <Step nth={2} title="The full way, if you like">
            <Typography gutterBottom>
              Over a secure connection the page opens without the computer in reach, keeps the screen awake for sure,
              and can be put on the phone like an app. The phone has to trust this house for that, once.
            </Typography>
            <Button
              variant="outlined"
              disabled={open.isPending}
              onClick={() => open.mutate(true)}
              sx={{ minHeight: 48 }}
            >
              Switch the secure connection on
            </Button>
          </Step>
        )}
        {secure.length > 0 && <Trusting here={here} secure={secure} />}
        {!here && door.data !== undefined && secure.length === 0 && (
          <Typography>
            This phone is in. To have the page out of the computer’s reach too, switch the secure connection on at the
            computer, under “Let a phone in”, and come back here.
          </Typography>
        )}
      </Stack>
    </Container>
  );
}

/** How a phone comes to trust the authority of this house. */
function Trusting({ here, secure }: { here: boolean; secure: readonly Way[] }) {
  const own = secure.find((way) => way.address.includes(`//${window.location.hostname}:`)) ?? secure[0];
  return (
    <Step nth={here ? 2 : 1} title="Trust this house, once">
      <Typography gutterBottom>
        {here
          ? "On the phone that has joined: House, then “This phone”. There is all of this:"
          : "Fetch its certificate:"}
      </Typography>
      <Link href="/authority.crt" download sx={{ display: "inline-block", py: 1.5, fontWeight: 700 }}>
        The certificate of this house
      </Link>
      <Typography sx={{ fontWeight: 700 }}>iPhone, iPad</Typography>
      <Typography component="ol" sx={{ mt: 0, pl: 3 }}>
        <li>Tap the link above, then Allow.</li>
        <li>Settings: “Profile Downloaded” at the top, then Install.</li>
        <li>Settings › General › About › Certificate Trust Settings: switch “Wayfinder in this house” on.</li>
      </Typography>
      <Typography sx={{ fontWeight: 700 }}>Android</Typography>
      <Typography component="ol" sx={{ mt: 0, pl: 3 }}>
        <li>Tap the link above; it is saved under Downloads.</li>
        <li>Settings › Security › Encryption and credentials › Install a certificate › CA certificate.</li>
        <li>Install anyway, and choose the file.</li>
      </Typography>
      <Typography gutterBottom sx={{ color: "text.secondary" }}>
        It can vouch for addresses inside a home’s network alone, for no site of the internet. Take it off in the same
        place.
      </Typography>
      {here ? (
        <>
          <Typography gutterBottom>Then open it securely:</Typography>
          {secure.map((way) => (
            <Shown key={way.address} way={way} />
          ))}
        </>
      ) : (
        <Button
          variant="contained"
          color="act"
          component="a"
          href={own?.address ?? ""}
          fullWidth
          sx={{ minHeight: 56 }}
        >
          Open it securely
        </Button>
      )}
    </Step>
  );
}

function Shown({ way }: { way: Way }) {
  return (
    <Box sx={{ mb: 1.5 }}>
      {way.picture != null && (
        <Box
          component="img"
          alt={`A phone’s camera reads ${way.address} here`}
          src={`data:image/svg+xml;utf8,${encodeURIComponent(way.picture)}`}
          sx={{ width: 220, height: 220, display: "block", bgcolor: "#fff" }}
        />
      )}
      <Typography className="mono" sx={{ fontSize: "1.15rem" }}>
        {way.address}
      </Typography>
    </Box>
  );
}

function Step({ nth, title, children }: { nth: number; title: string; children: ReactNode }) {
  return (
    <Paper variant="outlined" component="section" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        {nth}. {title}
      </Typography>
      {children}
    </Paper>
  );
}
