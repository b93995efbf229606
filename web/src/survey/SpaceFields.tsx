import { Box, TextField, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { Fragment, type KeyboardEvent, useEffect, useRef, useState } from "react";
import type { Face } from "../api/client";
import { useRevisionSeen } from "../api/edits";
import { useHouseView } from "../app/house";
import { SpaceDialog } from "./SpaceDialog";
import { after, isQuestion, type Spaces, useSpaces } from "./spaces";

type Space = Face["spaces"][number];

interface Props {
  face: Face;
  /** They are tapped on the drawing: what can be typed is folded away. */
  folded: boolean;
}

/** One text field a space, in the order of the engraved numbers; Enter takes over and goes on. */
export function SpaceFields({ face, folded }: Props) {
  const { chosen, choose } = useHouseView();
  const fields = useRef(new Map<number, HTMLInputElement>());
  const spaces = useSpaces(face.panel);
  const entered = face.spaces.filter((s) => s.text !== "" || s.covered_by != null).length;
  const bare = entered === 0;
  const [unfolded, setUnfolded] = useState(false);
  useEffect(() => {
    // Of a panel that is new the first space is what comes next.
    if (bare && !matchMedia("(pointer: coarse)").matches) {
      fields.current.get(face.spaces[0]?.space ?? 0)?.focus();
    }
  }, [bare, face.spaces]);
  useEffect(() => {
    if (chosen.space !== undefined) {
      fields.current.get(chosen.space)?.focus();
    }
  }, [chosen.space]);
  const goOn = (from: number, text: string) => {
    const [next] = after(face, from, text);
    if (next !== undefined) {
      fields.current.get(next.space)?.focus();
    }
  };
  const typed = (
    <>
      <Typography gutterBottom>
        Type and press Enter: <Example>20</Example> a 20 A breaker, <Example>2p50 range</Example> two poles and its old
        label, <Example>15 gfci bath</Example> (or afci, dual, fuse), <Example>-</Example> empty. Write labels as you
        find them, wrong or not. Or tap a space in the drawing.
      </Typography>
      <More />
      {/* In the order of their numbers, so that Tab goes the way Enter does; each beside where it stands in the panel. */}
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, columnGap: 2, rowGap: 1 }}>
        {face.spaces.map((space) => (
          <Box
            key={space.space}
            sx={{ gridRow: { sm: space.row + 1 }, gridColumn: { sm: space.column === "left" ? 1 : 2 } }}
          >
            <SpaceField
              space={space}
              put={spaces.put}
              register={(field) =>
                field === null ? fields.current.delete(space.space) : fields.current.set(space.space, field)
              }
              onTaken={(text) => goOn(space.space, text)}
            />
          </Box>
        ))}
      </Box>
    </>
  );
  return (
    <Box component="section" aria-labelledby="spaces-title">
      <Typography variant="h2" id="spaces-title" gutterBottom>
        What stands in each space of {face.name}
      </Typography>
      <Typography sx={{ color: "text.secondary", mb: 1.5 }} role="status">
        {entered} of {face.spaces.length} spaces entered
      </Typography>
      {folded ? (
        <Box
          component="details"
          onToggle={(event) => setUnfolded(event.currentTarget.open)}
          sx={{ "& > summary": { cursor: "pointer", fontWeight: 700, py: 1.5 } }}
        >
          <summary>Type them instead</summary>
          {unfolded && typed}
        </Box>
      ) : (
        typed
      )}
      {spaces.notes}
      <SpaceDialog
        face={face}
        put={spaces.put}
        open={chosen.space !== undefined && (folded || matchMedia("(pointer: coarse)").matches)}
        onClose={() => choose({})}
      />
    </Box>
  );
}

const more: [string, string][] = [
  [
    "15 lights / 20 fridge",
    "two half-size breakers in one space, the upper one first; - for a free half, ? if not looked at",
  ],
  ["15 a / 2p30 dryer / 20 b", "half-size breakers down two spaces, the two-pole one in the middle"],
  ["2p50 range (2p30 dryer)", "four halves: the outer pair, then the inner pair"],
  ["20 12-2 bath", "its cable: 12 AWG, two insulated conductors; #8 single wires, 6-3al aluminium"],
  ["20 12-3 ~1 counter", "it shares its neutral with the breaker at 1"],
  ["2p20 tie counter", "two single poles with tied handles"],
  ["20 off bath", "handle off; or tripped"],
  ["30! dryer", "as found: it is really so, though it should not be"],
  ['15 "off stage"', "a label that would be read as something else"],
];

/** The rest of the notation, for whoever needs it. */
function More() {
  return (
    <Box component="details" sx={{ mb: 1.5, "& summary": { cursor: "pointer", minHeight: 24 } }}>
      <summary>Half-size breakers, cables, shared neutrals, as found …</summary>
      <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "max-content 1fr", gap: 0.75, my: 1 }}>
        {more.map(([typed, means]) => (
          <Fragment key={typed}>
            <dt>
              <Example>{typed}</Example>
            </dt>
            <Box component="dd" sx={{ m: 0 }}>
              {means}
            </Box>
          </Fragment>
        ))}
      </Box>
    </Box>
  );
}

function Example({ children }: { children: string }) {
  return (
    <Box component="code" className="mono" sx={{ px: 0.5, border: 1, borderColor: "divider", borderRadius: 0.5 }}>
      {children}
    </Box>
  );
}

interface FieldProps {
  space: Space;
  put: Spaces["put"];
  register: (field: HTMLInputElement | null) => void;
  onTaken: (text: string) => void;
}

function SpaceField({ space, put, register, onTaken }: FieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  // What others change between the first key and Enter must not be overwritten unseen.
  const begun = useRef(0);
  // Enter moves on, and leaving the field takes over too: what is on its way is not sent twice.
  const sent = useRef<string | null>(null);
  const seen = useRevisionSeen(useHouseView().id);
  const take = useMutation({
    mutationFn: ({ text, sure }: { text: string; sure: boolean }) => put(space.space, text, begun.current, sure),
  });
  const asked = isQuestion(take.error);
  const covered = space.covered_by != null;
  const submit = (goOn: boolean) => {
    if (typed !== null && sent.current === typed) {
      return;
    }
    if (typed === null || typed.trim() === space.text) {
      setTyped(null);
      if (goOn) {
        onTaken(space.text);
      }
      return;
    }
    if (asked && !goOn) {
      // Leaving the field is no answer.
      return;
    }
    sent.current = typed;
    take.mutate(
      { text: typed, sure: asked },
      {
        onSuccess: (text) => {
          // What was typed on meanwhile stays.
          setTyped((now) => (now === typed ? null : now));
          if (goOn && text !== undefined) {
            onTaken(text);
          }
        },
        onError: () => {
          sent.current = null;
        },
      },
    );
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Enter") {
      event.preventDefault();
      submit(true);
    } else if (event.key === "Escape") {
      setTyped(null);
      take.reset();
    }
  };
  const hint = covered ? `written at ${space.covered_by}` : undefined;
  return (
    <TextField
      fullWidth
      label={`${space.space} (leg ${space.leg})`}
      value={typed ?? space.text}
      disabled={covered}
      error={take.error !== null}
      helperText={take.error?.message ?? hint}
      inputRef={register}
      onChange={(event) => {
        if (typed === null) {
          begun.current = seen();
        }
        sent.current = null;
        setTyped(event.target.value);
        take.reset();
      }}
      onBlur={() => submit(false)}
      slotProps={{ htmlInput: { className: "mono", autoComplete: "off", spellCheck: false, onKeyDown } }}
    />
  );
}
