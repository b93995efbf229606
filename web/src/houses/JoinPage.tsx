import { Button, Container, Stack, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { client, data } from "../api/client";
import { Mark } from "../parts/Mark";
import { ProblemNote } from "../parts/ProblemNote";

/** The code behind the address's hash, which no server sees. */
function codeInAddress(): string {
  return new URLSearchParams(window.location.hash.slice(1)).get("code") ?? "";
}

/** Another device gives the join code once. */
export function JoinPage() {
  const shown = codeInAddress();
  const [code, setCode] = useState(shown);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const join = useMutation({
    mutationFn: () =>
      data(
        client.POST("/api/v1/session", { body: { code } }).then((answer) => ({ ...answer, data: answer.data ?? true })),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries();
      await navigate("/");
    },
  });
  // What the phone's camera read has the code with it: nothing is left to type.
  const { mutate } = join;
  useEffect(() => {
    if (shown !== "") {
      window.history.replaceState(window.history.state, "", window.location.pathname);
      mutate();
    }
  }, [shown, mutate]);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    join.mutate();
  };
  return (
    <Container component="main" maxWidth="xs" sx={{ py: 6 }}>
      <Stack component="form" spacing={2} onSubmit={submit}>
        <Stack direction="row" spacing={1.5} sx={{ alignItems: "center" }}>
          <Mark />
          <Typography variant="h1">Join this Wayfinder</Typography>
        </Stack>
        <Typography>
          The computer it runs on shows a code of six digits: in its window, and under “Let a phone in”.
        </Typography>
        <TextField
          label="Join code"
          value={code}
          autoFocus
          onChange={(event) => setCode(event.target.value)}
          slotProps={{ htmlInput: { inputMode: "numeric", autoComplete: "one-time-code", maxLength: 6 } }}
        />
        <ProblemNote error={join.error} />
        <Button type="submit" variant="contained" disabled={join.isPending || code.trim() === ""}>
          Join
        </Button>
      </Stack>
    </Container>
  );
}
