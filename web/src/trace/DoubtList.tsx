import { Box, Button, Paper, Typography } from "@mui/material";
import { useCommit } from "../api/edits";
import { useDoubts } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { breakerName, count, percent } from "../parts/words";

const row = { display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap", mt: 0.5 } as const;

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
        {doubts.data.every((doubt) => doubt.second_look) ? "Worth a second look" : "Answers that do not fit together"}
      </Typography>
      <ProblemNote error={commit.error} />
      {doubts.data.map((doubt) => (
        <Paper key={doubt.point} variant="outlined" sx={{ p: 1.5, mb: 1.5 }}>
          <Typography>
            {[doubt, ...doubt.also].map((at) => (
              <Button
                key={at.point}
                size="small"
                sx={{ minHeight: 44 }}
                onClick={() => choose({ ...chosen, point: at.point })}
              >
                {at.name} ({at.tag})
              </Button>
            ))}{" "}
            {doubt.second_look ? "Worth a second look" : "Cheapest check"}: {doubt.said}.
          </Typography>
          {doubt.stories.map(({ kind, said, correction }) => (
            <Box key={kind} sx={row}>
              <Typography sx={{ flexGrow: 1 }}>Would explain everything: {said}.</Typography>
              {correction != null && (
                <Button
                  size="small"
                  sx={{ minHeight: 44 }}
                  variant="outlined"
                  disabled={commit.isPending}
                  onClick={() => commit.mutate({ type: "correct-looks", ...correction })}
                >
                  So it was: put {count(correction.looks.length, "look")} right
                </Button>
              )}
            </Box>
          ))}
          {doubt.against.map((odd) => (
            <Box key={odd.evidence} sx={row}>
              <Typography sx={{ flexGrow: 1 }}>
                {doubt.second_look ? "Against all its neighbours" : "Does not fit"}
                {doubt.also.length > 0 && ` at ${odd.tag}`}: {odd.said}. If that is wrong:{" "}
                {odd.without == null
                  ? "nothing is sure"
                  : `${breakerName(house, odd.without)}, ${percent(odd.sure)} sure`}
                .
              </Typography>
              <Button
                size="small"
                sx={{ minHeight: 44 }}
                disabled={commit.isPending}
                onClick={() => commit.mutate({ type: "retract", evidence: odd.evidence })}
              >
                Take it out
              </Button>
            </Box>
          ))}
        </Paper>
      ))}
    </section>
  );
}
