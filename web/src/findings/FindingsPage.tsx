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
      {(["danger", "mend", "improve"] as const).map((severity) => (
        <Group
          key={severity}
          title={capital(severityWord[severity])}
          findings={gravest(all?.findings ?? [], severity)}
        />
      ))}
      <WorthFindingOut unknown={all?.unknown ?? []} />
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

/** What stands under a severity: what one cause explains stands whole under the gravest of it. */
function gravest(findings: Finding[], severity: Finding["severity"]): Finding[] {
  const under = (finding: Finding) =>
    finding.cause == null ? finding : (findings.find((f) => f.cause === finding.cause) ?? finding);
  return findings.filter((finding) => under(finding).severity === severity);
}

/** Findings of one severity; those of one rule stand together, told once, and so do those that one cause explains. */
function Group({ title, findings }: { title: string; findings: Finding[] }) {
  if (findings.length === 0) {
    return null;
  }
  const together = (finding: Finding) => finding.cause ?? finding.rule;
  return (
    <Box component="section" aria-label={title}>
      <Typography variant="h3" component="h2" gutterBottom>
        {title}
      </Typography>
      <Stack spacing={1.5}>
        {[...new Set(findings.map(together))].map((key) => (
          <Together key={key} findings={findings.filter((f) => together(f) === key)} />
        ))}
      </Stack>
    </Box>
  );
}

function Together({ findings }: { findings: Finding[] }) {
  const [first] = findings;
  const rules = [...new Set(findings.map((f) => f.rule))];
  const cards = rules.map((rule) => <FindingCard key={rule} findings={findings.filter((f) => f.rule === rule)} />);
  if (first?.cause == null) {
    return cards;
  }
  return (
    <Stack
      component="section"
      aria-label={first.cause}
      spacing={1}
      sx={{ borderLeft: 1, borderColor: "divider", pl: 1.5 }}
    >
      <Typography>
        All of these may come from <strong>{first.cause}</strong>: look there first.
      </Typography>
      {cards}
    </Stack>
  );
}

/** What nobody knows, with what finds it out. */
function WorthFindingOut({ unknown }: { unknown: Schemas["Unknown"][] }) {
  if (unknown.length === 0) {
    return null;
  }
  return (
    <Box component="section" aria-label="Worth finding out">
      <Typography variant="h3" component="h2" gutterBottom>
        Worth finding out
      </Typography>
      <Stack component="ul" sx={{ m: 0, p: 0, listStyle: "none" }}>
        {unknown.map(({ what, check, page }) => (
          <Box component="li" key={what} sx={{ borderTop: 1, borderColor: "divider", py: 1 }}>
            <Typography>{capital(what)}.</Typography>
            <Anchor
              component={Link}
              to={`../${page}`}
              sx={{ display: "inline-flex", alignItems: "center", minHeight: 44 }}
            >
              {capital(check)}
            </Anchor>
          </Box>
        ))}
      </Stack>
    </Box>
  );
}
