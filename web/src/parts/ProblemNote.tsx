import { Alert, AlertTitle } from "@mui/material";
import { Problem } from "../api/client";

/** What went wrong, or nothing. */
export function ProblemNote({ error }: { error: unknown }) {
  if (error === null || error === undefined) {
    return null;
  }
  const problem = error instanceof Problem ? error : new Problem(0, "Something went wrong", String(error));
  const conflict = problem.status === 409;
  return (
    <Alert severity="error" role="alert">
      <AlertTitle>{problem.title}</AlertTitle>
      {problem.message}
      {conflict && ". Yours was not made; what you see now is the newest. Look at it and try again."}
    </Alert>
  );
}
