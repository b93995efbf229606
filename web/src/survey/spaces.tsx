import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { type ReactNode, useState } from "react";
import { type Change, type Face, Problem, type Schemas } from "../api/client";
import { newId, useCommit, useUndo } from "../api/edits";
import { useReadFace } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { type Noted, Undoable } from "../parts/Undoable";
import { count } from "../parts/words";

interface Asked {
  space: number;
  cost: Schemas["Cost"];
  answer: (go: boolean) => void;
}

export interface Spaces {
  /** Takes over what was typed for a space: how it reads then, or nothing where somebody thought better of it. */
  put: (space: number, text: string, base: number, sure?: boolean) => Promise<string | undefined>;
  /** The question before something is lost, and Undo after. */
  notes: ReactNode;
}

/** What was typed can be read, and is asked about: entered once more it is taken as it is. */
export function isQuestion(error: unknown): boolean {
  return error instanceof Problem && error.field === "text.sure";
}

/** Enters what was typed for a space, with care for what was observed. */
export function useSpaces(panel: number): Spaces {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const undo = useUndo(id);
  const readFace = useReadFace(id, panel);
  const [asked, setAsked] = useState<Asked>();
  const [noted, setNoted] = useState<Noted>();
  const mayLose = (space: number, cost: Schemas["Cost"]) =>
    new Promise<boolean>((resolve) => {
      const answer = (go: boolean) => {
        setAsked(undefined);
        resolve(go);
      };
      setAsked({ space, cost, answer });
    });
  const make = async (change: Change, space: number, base: number) => {
    try {
      return await commit.mutateAsync({ change, base, careful: true });
    } catch (error) {
      const cost = error instanceof Problem ? error.cost : undefined;
      if (cost === undefined) {
        throw error;
      }
      return (await mayLose(space, cost)) ? { ...(await commit.mutateAsync({ change, base })), cost } : undefined;
    }
  };
  const put = async (space: number, text: string, base: number, sure = false) => {
    const done = await make({ type: "enter-space", panel, space, text, new: newId(16), sure }, space, base);
    if (done === undefined) {
      return undefined;
    }
    const read = (await readFace()).spaces.find((s) => s.space === space)?.text ?? "";
    const reads = read === "-" ? "empty" : read === "" ? "not entered" : read;
    // A breaker that is added may leave a point less sure: that is told afterwards.
    const unproven = done.cost?.unproven_words ?? "";
    const less = unproven === "" ? "" : `. No longer proven: ${unproven}`;
    setNoted({ text: `Space ${space}: ${reads}${less}`, revision: done.revision });
    return read;
  };
  const notes = (
    <>
      <Dialog open={asked !== undefined} onClose={() => asked?.answer(false)} aria-labelledby="lose-title">
        {asked !== undefined && <Losing asked={asked} />}
      </Dialog>
      <ProblemNote error={undo.error} />
      <Undoable
        noted={noted}
        busy={undo.isPending}
        onUndo={(what) => undo.mutate(what.revision, { onSuccess: () => setNoted(undefined) })}
        onGone={() => setNoted(undefined)}
      />
    </>
  );
  return { put, notes };
}

function Losing({ asked }: { asked: Asked }) {
  const { observations, readings, unproven_words } = asked.cost;
  return (
    <>
      <DialogTitle id="lose-title">This takes away what was traced</DialogTitle>
      <DialogContent>
        <Typography gutterBottom>
          {count(observations, "observation")} of the breaker at {asked.space} will be gone. What was seen of other
          breakers stays.
        </Typography>
        {readings > 0 && <Typography gutterBottom>So will {count(readings, "reading")} taken at it.</Typography>}
        {unproven_words !== "" && <Typography gutterBottom>No longer proven: {unproven_words}.</Typography>}
        <Typography>Undo brings all of it back.</Typography>
      </DialogContent>
      <DialogActions>
        <Button variant="contained" autoFocus onClick={() => asked.answer(false)}>
          Leave it as it is
        </Button>
        <Button onClick={() => asked.answer(true)}>Change it</Button>
      </DialogActions>
    </>
  );
}

/** The spaces after one, by their numbers, that something else may stand in once this was entered there. */
export function after(face: Face, from: number, text: string): Face["spaces"] {
  // The spaces that a new breaker reaches into are passed over even before they are drawn.
  const poles = Number(text.match(/^([23])p/i)?.[1] ?? 1);
  const column = face.spaces.find((s) => s.space === from)?.column;
  const below = face.spaces.filter((s) => s.column === column && s.space > from).slice(0, poles - 1);
  const passed = new Set(below.map((s) => s.space));
  return face.spaces.filter((s) => s.space > from && s.covered_by == null && !passed.has(s.space));
}
