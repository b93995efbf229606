import { Alert, Link as Anchor, Box, Button, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useAudit, useInspection } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { capital, count, severityWord } from "../parts/words";
import { FindingCard } from "./FindingCard";

type Finding = Schemas["Finding"];

/** What is wrong in the house, danger first; what was put off or is not so; and what nobody looked at yet. */
export function FindingsPage() {
  const { id } = useHouseView();
  const audit = useAudit(id);
  const open = useInspection(id, false).data;
  const unclear = open?.asked.filter((answer) => answer.saw === "cannot-tell").length ?? 0;
  const all = audit.data;
  return (
    <Stack spacing={2.5} sx={{ maxWidth: 820 }}>
      <Typography variant="h2" component="h1">
        Findings
      </Typography>
      <ProblemNote error={audit.error} />
      {all !== undefined && <Typography>{all.said}</Typography>}
      {open !== undefined && open.open.length > 0 && (
        <Alert
          severity="info"
          action={
            <Button component={Link} to="../inspection" color="inherit" sx={{ minHeight: 44 }}>
              {open.asked.length > 0 ? "Go on" : "Begin"}
            </Button>
          }
        >
          {count(open.open.length, "question")} that nobody looked at yet: a walk of about{" "}
          {Math.ceil(open.seconds / 60)} min, covers on.
        </Alert>
      )}
      {unclear > 0 && (
        <Typography>{count(unclear, "answer")} of the walk could not be told: that stays unknown.</Typography>
      )}
      {(["danger", "mend", "improve"] as const).map((severity) => (
        <Group
          key={severity}
          title={capital(severityWord[severity])}
          findings={all?.findings.filter((f) => f.severity === severity) ?? []}
        />
      ))}
      <Group title="Put off" findings={all?.later ?? []} />
      <Group title="Not so" findings={all?.not_so ?? []} />
      <Typography>
        <Anchor href={`/api/v1/houses/${id}/audit.pdf`} target="_blank" sx={{ mr: 2, fontWeight: 700 }}>
          Report to hand over
        </Anchor>
        <Anchor href={`/api/v1/houses/${id}/audit.csv`} download sx={{ fontWeight: 700 }}>
          As a table
        </Anchor>
      </Typography>
      <Typography>
        Local code and the local authority decide; older work may have been right in its day.{" "}
        <Anchor component={Link} to="../log">
          What was done
        </Anchor>{" "}
        stands in the log.
      </Typography>
    </Stack>
  );
}

/** Findings of one severity; those of one rule stand together, told once. */
function Group({ title, findings }: { title: string; findings: Finding[] }) {
  if (findings.length === 0) {
    return null;
  }
  const rules = [...new Set(findings.map((f) => f.rule))];
  return (
    <Box component="section" aria-label={title}>
      <Typography variant="h3" component="h2" gutterBottom>
        {title}
      </Typography>
      <Stack spacing={1.5}>
        {rules.map((rule) => (
          <FindingCard key={rule} findings={findings.filter((f) => f.rule === rule)} />
        ))}
      </Stack>
    </Box>
  );
}
