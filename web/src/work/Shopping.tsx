import { Box, Button, Stack, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useCommit } from "../api/edits";
import { useShopping } from "../api/reads";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";

type Line = Schemas["ShopLine"];

/** Of what the list is: a plan by its goal, a job by its id, or all jobs that are begun. */
export type ListOf = { goal: Schemas["Goal"] } | { job: number } | "begun";

function addressOf(house: number, of: ListOf, form: string): string {
  if (of === "begun") {
    return `/api/v1/houses/${house}/jobs-shopping?${new URLSearchParams({ form })}`;
  }
  return "job" in of
    ? `/api/v1/houses/${house}/jobs/${of.job}/shopping?${new URLSearchParams({ form })}`
    : `/api/v1/houses/${house}/job-shopping?${new URLSearchParams({ goal: JSON.stringify(of.goal), form })}`;
}

/** What is to be at hand, with prices that are typed once and kept; for the shop as a sheet, a table, or text to send. */
export function Shopping({ of }: { of: ListOf }) {
  const { id } = useHouseView();
  const list = useShopping(id, of);
  const [sent, setSent] = useState<string>();
  if (list.data === undefined) {
    return <ProblemNote error={list.error} />;
  }
  const { lines, tools, sum, open } = list.data;
  const send = async () => {
    const answer = await fetch(addressOf(id, of, "text")).catch(() => undefined);
    if (answer?.ok !== true) {
      setSent("The list could not be read, and nothing was sent. Try again when the program can be reached.");
      return;
    }
    const text = await answer.text();
    // Where the device has no way to hand text on, it is put where it can be pasted from.
    if (navigator.share !== undefined) {
      await navigator.share({ text }).catch(() => undefined);
    } else {
      await navigator.clipboard?.writeText(text);
      setSent("Copied: paste it where you want it.");
    }
  };
  return (
    <Box component="section" aria-labelledby="parts">
      <Typography variant="h3" component="h2" id="parts" gutterBottom>
        At hand before you begin
      </Typography>
      <Table size="small" aria-labelledby="parts" sx={{ maxWidth: 860 }}>
        <TableHead>
          <TableRow>
            <TableCell>What</TableCell>
            <TableCell align="right" sx={wide}>
              How many
            </TableCell>
            <TableCell sx={{ width: { xs: 120, sm: 150 } }}>Price of one</TableCell>
            <TableCell align="right" sx={wide}>
              Sum
            </TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {lines.map((line) => (
            <PartRow key={`${line.key} ${line.count === 0}`} line={line} />
          ))}
        </TableBody>
      </Table>
      {open < lines.length && (
        <Typography sx={{ mt: 1, fontWeight: 700 }}>
          Together {sum.toFixed(2)}
          {open > 0 && `, ${open} without a price or a length`}
        </Typography>
      )}
      {tools.length > 0 && <Typography sx={{ mt: 1 }}>Tools: {tools.join(", ")}</Typography>}
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", mt: 1.5 }}>
        <Button
          component="a"
          href={addressOf(id, of, "pdf")}
          target="_blank"
          rel="noreferrer"
          variant="outlined"
          sx={{ minHeight: 48 }}
        >
          Shopping list (PDF)
        </Button>
        <Button component="a" href={addressOf(id, of, "csv")} variant="outlined" sx={{ minHeight: 48 }}>
          As a table (CSV)
        </Button>
        <Button variant="outlined" onClick={() => void send()} sx={{ minHeight: 48 }}>
          Send it as text
        </Button>
      </Stack>
      {sent !== undefined && <Typography role="status">{sent}</Typography>}
    </Box>
  );
}

/** A phone has no room for these columns: the line says the same in words. */
const wide = { display: { xs: "none", sm: "table-cell" } };

function PartRow({ line }: { line: Line }) {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const [typed, setTyped] = useState<number | null>(line.price ?? null);
  const keep = () => {
    if (typed !== (line.price ?? null)) {
      const { [line.key]: _, ...others } = house.about.prices ?? {};
      const prices = typed === null ? others : { ...others, [line.key]: typed };
      commit.mutate({ type: "set-about", about: { ...house.about, prices } });
    }
  };
  const count = line.count === 0 ? "to measure" : line.unit ? `${line.count} ${line.unit}` : String(line.count);
  return (
    <TableRow>
      <TableCell>
        {line.what}
        <Typography sx={{ display: { sm: "none" }, fontWeight: 650 }}>
          {count}
          {line.sum == null ? "" : `, together ${line.sum.toFixed(2)}`}
        </Typography>
        {line.note ? <Typography sx={{ fontSize: 14, color: "text.secondary" }}>{line.note}</Typography> : null}
        <ProblemNote error={commit.error} />
      </TableCell>
      <TableCell align="right" className="mono" sx={wide}>
        {count}
      </TableCell>
      <TableCell onBlur={keep}>
        <NumberField label={`Price of ${line.key}`} inTable unit="money" optional value={typed} onChange={setTyped} />
      </TableCell>
      <TableCell align="right" className="mono" sx={wide}>
        {line.sum == null ? "" : line.sum.toFixed(2)}
      </TableCell>
    </TableRow>
  );
}
