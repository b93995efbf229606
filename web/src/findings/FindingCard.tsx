import { Box, Button, Paper, Stack, TextField, Typography } from "@mui/material";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { mendsWord } from "../parts/words";
import { useRemark } from "./useRemark";

type Finding = Schemas["Finding"];

/** Something put off comes back after so many days. */
const LATER_DAYS = 30;

const edge = { danger: "error.main", mend: "text.primary", improve: "divider" } as const;

/** What one rule found, with each place: what is wrong, what mends it, who, and what may be decided of it. */
export function FindingCard({ findings }: { findings: Finding[] }) {
  const [first] = findings;
  if (first === undefined) {
    return null;
  }
  return (
    <Paper variant="outlined" sx={{ p: 2, borderLeft: 4, borderLeftColor: edge[first.severity] }}>
      <Typography sx={{ fontWeight: 650, fontSize: "1.1rem" }}>{first.title}</Typography>
      <Stack component="ul" sx={{ m: 0, p: 0, listStyle: "none" }}>
        {findings.map((finding) => (
          <Place key={JSON.stringify(finding.of)} finding={finding} />
        ))}
      </Stack>
      <Typography sx={{ mt: 1 }}>
        <strong>What mends it:</strong> {first.cure}. <strong>Who:</strong> {mendsWord[first.who]}.
        {first.takes != null && ` It takes ${first.takes}.`}
      </Typography>
      <Typography sx={{ color: "text.secondary" }}>{first.source}</Typography>
    </Paper>
  );
}

function Place({ finding }: { finding: Finding }) {
  const { id } = useHouseView();
  const { remark, busy, error } = useRemark(id);
  const [asks, setAsks] = useState(false);
  const { decided, rule, of } = finding;
  const about = new URLSearchParams();
  if (finding.breaker != null) {
    about.set("breaker", String(finding.breaker));
  }
  if (finding.point != null) {
    about.set("point", String(finding.point));
  }
  const later = () => {
    const until = new Date(Date.now() + LATER_DAYS * 86_400_000).toISOString();
    remark(of, { what: "later", rule, until });
  };
  return (
    <Box component="li" sx={{ borderTop: 1, borderColor: "divider", py: 1, mt: 1 }}>
      <Typography>
        <strong>{finding.where}</strong>: {finding.why}
        {finding.rests === "likely" && " (likely, not proven)"}.
      </Typography>
      {decided != null && (
        <Typography sx={{ color: "text.secondary" }}>
          {decided.who}: {decided.until == null ? "not so" : `later, ${new Date(decided.until).toLocaleDateString()}`}
          {decided.note !== "" && `, ${decided.note}`}
        </Typography>
      )}
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1, mt: 0.5 }}>
        {finding.job != null && (
          <Button
            component={Link}
            to={`../plan-work/${finding.job}?${about}`}
            variant="outlined"
            sx={{ minHeight: 44 }}
          >
            Plan the mending
          </Button>
        )}
        {decided == null && (
          <>
            {finding.severity !== "danger" && (
              <Button disabled={busy} onClick={later} sx={{ minHeight: 44 }}>
                Later, in a month
              </Button>
            )}
            {finding.severity !== "danger" && (
              <Button onClick={() => setAsks(!asks)} aria-expanded={asks} sx={{ minHeight: 44 }}>
                Not so …
              </Button>
            )}
          </>
        )}
      </Stack>
      {finding.severity === "danger" && (
        <Typography sx={{ color: "text.secondary" }}>
          Not so? Correct what is entered, or take the answer back in the log.
        </Typography>
      )}
      {asks && decided == null && (
        <Why busy={busy} onWhy={(why) => remark(of, { what: "not-so", rule, found: finding.why }, why)} />
      )}
      <ProblemNote error={error} />
    </Box>
  );
}

/** A finding is set aside for a reason only, which stands there for whoever comes next. */
function Why({ busy, onWhy }: { busy: boolean; onWhy: (why: string) => void }) {
  const [why, setWhy] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onWhy(why.trim());
  };
  return (
    <Stack component="form" direction="row" spacing={1} onSubmit={submit} sx={{ mt: 1 }}>
      <TextField
        label="Why is it not so?"
        value={why}
        onChange={(e) => setWhy(e.target.value)}
        size="small"
        fullWidth
      />
      <Button type="submit" variant="outlined" disabled={busy || why.trim() === ""} sx={{ minHeight: 44 }}>
        Keep
      </Button>
    </Stack>
  );
}
