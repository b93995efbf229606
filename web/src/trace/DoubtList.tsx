import { Box, Button, Paper, Typography } from "@mui/material";
import type { Doubt } from "../api/client";
import { useCommit } from "../api/edits";
import { useDoubts } from "../api/reads";
import { useHouseView } from "../app/house";
import { Observed } from "../parts/Observed";
import { ProblemNote } from "../parts/ProblemNote";
import { breakerName, percent, storyWord } from "../parts/words";

const checkWord: Record<Doubt["check"], string> = {
  "look-again": "look again, another way if there is one",
  switch: "move its wall switch and look",
  device: "press reset on its ground-fault device and look",
};

/** Contradictions: the pieces that do not fit, what each would mean if wrong, and what would explain them all. */
export function DoubtList() {
  const { id, house, chosen, choose } = useHouseView();
  const doubts = useDoubts(id);
  const commit = useCommit(id);
  if (doubts.data === undefined || doubts.data.length === 0) {
    return null;
  }
  return (
    <section aria-labelledby="doubts-title">
      <Typography variant="h2" id="doubts-title" gutterBottom>
        Answers that do not fit together
      </Typography>
      <ProblemNote error={commit.error} />
      {doubts.data.map((doubt) => (
        <Paper key={doubt.point} variant="outlined" sx={{ p: 1.5, mb: 1.5 }}>
          <Typography>
            <Button
              size="small"
              className="mono"
              sx={{ minWidth: 48 }}
              onClick={() => choose({ ...chosen, point: doubt.point })}
            >
              {doubt.tag}
            </Button>{" "}
            Cheapest check: {checkWord[doubt.check]}
            {doubt.with != null && `, with ${breakerName(house, doubt.with)} off`}.
          </Typography>
          {doubt.against.map((odd) => {
            const piece = house.evidence.find((e) => e.id === odd.evidence);
            return (
              piece !== undefined && (
                <Box
                  key={odd.evidence}
                  sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap", mt: 0.5 }}
                >
                  <Typography sx={{ flexGrow: 1 }}>
                    <Observed piece={piece} />. If that is wrong:{" "}
                    {odd.without == null
                      ? "nothing is sure"
                      : `${breakerName(house, odd.without)}, ${percent(odd.sure)} sure`}
                    .
                  </Typography>
                  <Button
                    size="small"
                    disabled={commit.isPending}
                    onClick={() => commit.mutate({ type: "retract", evidence: odd.evidence })}
                  >
                    Take it out
                  </Button>
                </Box>
              )
            );
          })}
          {doubt.stories.map((story) => (
            <Typography key={story.kind} sx={{ mt: 0.5 }}>
              Would explain everything: {storyWord[story.kind]}
              {story.breakers.length > 0 && ` (${story.breakers.map((b) => breakerName(house, b)).join(" and ")})`}.
            </Typography>
          ))}
        </Paper>
      ))}
    </section>
  );
}
