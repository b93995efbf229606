import { Alert, Button, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import { useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";

/** Asked once: what a panel feeds that nobody entered stays live whatever is off. */
export function EveryPanel() {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const say = (every_panel: boolean) => commit.mutate({ type: "set-about", about: { ...house.about, every_panel } });
  if (house.about.every_panel === true) {
    return (
      <Typography sx={{ color: "text.secondary" }}>
        These are all the panels of the property.{" "}
        <Button size="small" disabled={commit.isPending} onClick={() => say(false)}>
          I am not sure any more
        </Button>
      </Typography>
    );
  }
  const names = house.panels.map((p) => p.name).join(", ");
  return (
    <Alert severity="info" icon={false} className="no-print">
      <Typography sx={{ fontWeight: 700 }}>Is this every panel of the property?</Typography>
      <Typography gutterBottom>
        Entered: {names}. Look in the basement, the garage, outbuildings, and outside by the meter.
      </Typography>
      <Stack direction="row" spacing={1} sx={{ flexWrap: "wrap" }}>
        <Button variant="outlined" disabled={commit.isPending} onClick={() => say(true)} sx={{ minHeight: 44 }}>
          Yes, every panel
        </Button>
        <Button component={Link} to={`/houses/${id}/survey#panels`} sx={{ minHeight: 44 }}>
          No, enter another
        </Button>
      </Stack>
      <ProblemNote error={commit.error} />
    </Alert>
  );
}
