import { Button, Container, Stack, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { client, data } from "../api/client";
import { Mark } from "../parts/Mark";
import { ProblemNote } from "../parts/ProblemNote";

/** Another device gives the join code once. */
export function JoinPage() {
  const [search] = useSearchParams();
  const [code, setCode] = useState(search.get("code") ?? "");
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
        <Typography>The computer it runs on shows a code of six digits: in its window, and under “Phone”.</Typography>
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
