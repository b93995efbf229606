import { Box, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { stageWord } from "../parts/words";

type JobStep = Schemas["JobStep"];

interface Props {
  steps: readonly JobStep[];
  /** What was done of a step, where a job is under way. */
  done?: (step: JobStep) => string | undefined;
  /** The step that is next, by its number. */
  next?: number | undefined;
}

/** What a reading must lie in, in a few words. */
export function bandOf(hold: Schemas["Hold"]): string {
  const likely = hold.likely != null && hold.likely > 0 ? `, likely ${hold.likely.toFixed(0)}` : "";
  return `${hold.expect.from} to ${hold.expect.to} V${likely}`;
}

/** All steps under their stages. */
export function StepList({ steps, done, next }: Props) {
  const stages = [...new Set(steps.map((step) => step.stage))];
  return (
    <Box component="section" aria-label="Steps">
      {stages.map((stage) => (
        <Box key={stage} sx={{ mb: 2 }}>
          <Typography
            variant="h3"
            component="h2"
            gutterBottom
            sx={{ "&::first-letter": { textTransform: "uppercase" } }}
          >
            {stageWord[stage]}
          </Typography>
          <Box component="ol" start={1 + steps.findIndex((step) => step.stage === stage)} sx={{ m: 0, pl: 4 }}>
            {steps
              .filter((step) => step.stage === stage)
              .map((step) => {
                const was = done?.(step);
                const now = next !== undefined && steps[next]?.key === step.key;
                return (
                  <Box component="li" key={step.key} sx={{ mb: 0.75, ...(now ? { fontWeight: 700 } : {}) }}>
                    {step.do}
                    {step.hold != null && (
                      <Box component="span" sx={{ fontWeight: 700 }}>
                        {" "}
                        ({bandOf(step.hold)}, {step.hold.between})
                      </Box>
                    )}
                    {was !== undefined && (
                      <Box component="span" sx={{ color: "text.secondary" }}>
                        {" "}
                        {was}
                      </Box>
                    )}
                  </Box>
                );
              })}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
