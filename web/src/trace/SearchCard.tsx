import { Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Advice } from "../api/client";
import { useForgotten } from "../api/reads";
import { useHouseView } from "../app/house";
import { breakerName } from "../parts/words";
import { StopButton } from "./StopButton";
import type { Tracing } from "./useTracing";

/** While breakers that feed nothing on the list are off: is anything dead that is on no list? */
export function SearchCard({ advice, tracing }: { advice: Advice; tracing: Tracing }) {
  const { id, house } = useHouseView();
  const forgotten = useForgotten(id).data ?? [];
  return (
    <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }} aria-live="polite">
      <Typography variant="h2" gutterBottom>
        Walk through: what else is dead?
      </Typography>
      <Typography gutterBottom>
        Off now: {advice.search.map((b) => breakerName(house, b)).join(", ")}. Everything on the list is on other
        breakers.
      </Typography>
      {forgotten.length > 0 && (
        <Typography gutterBottom>Often forgotten: {forgotten.map((item) => item.name).join(", ")}.</Typography>
      )}
      <Stack direction="row" sx={{ gap: 1.5, my: 2, flexWrap: "wrap", alignItems: "center" }}>
        <Button
          variant="contained"
          color="act"
          size="large"
          disabled={tracing.busy}
          onClick={() => tracing.foundNothing(advice)}
        >
          Nothing else is dead
        </Button>
        <Button variant="outlined" size="large" component={Link} to={`/houses/${id}/survey`}>
          Something is: add it
        </Button>
        <StopButton tracing={tracing} />
      </Stack>
      <Typography sx={{ color: "text.secondary" }}>
        “Nothing found” is no promise: before work on such a wire it is tested dead like any other.
      </Typography>
    </Paper>
  );
}
