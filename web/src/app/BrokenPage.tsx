import { Button, Container, Stack, Typography } from "@mui/material";
import { useRouteError } from "react-router";
import { Mark } from "../parts/Mark";

/** A page could not be drawn, or its part of the program could not be fetched; `inside` the frame of a house that stands. */
export function BrokenPage({ inside = false }: { inside?: boolean }) {
  const error = useRouteError();
  return (
    <Container component={inside ? "section" : "main"} maxWidth="sm" sx={{ py: 6 }}>
      <Stack spacing={2} sx={{ alignItems: "start" }}>
        <Stack direction="row" spacing={1.5} sx={{ alignItems: "center" }}>
          <Mark />
          <Typography variant="h1">This page broke</Typography>
        </Stack>
        <Typography>
          Nothing was lost: what you answered is kept on this device until the computer has it. Leave handles as they
          are until the page is back.
        </Typography>
        <Stack direction="row" spacing={1.5}>
          <Button variant="contained" onClick={() => location.reload()}>
            Load it again
          </Button>
          <Button variant="outlined" onClick={() => location.assign("/")}>
            All houses
          </Button>
        </Stack>
        <Typography sx={{ color: "text.secondary" }}>
          If it breaks again, tell whoever looks after the program:{" "}
          {error instanceof Error ? error.message : "no reason"}
        </Typography>
      </Stack>
    </Container>
  );
}
