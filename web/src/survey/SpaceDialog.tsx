import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { Face } from "../api/client";
import { useRevisionSeen } from "../api/edits";
import { useHouseView } from "../app/house";
import { CloseButton } from "../parts/CloseButton";
import { ProblemNote } from "../parts/ProblemNote";
import { type Body, bodies, freshSlot, notation, type Slot, standing } from "./slots";
import { after, isQuestion, type Spaces } from "./spaces";

const types: [string, string][] = [
  ["", "plain"],
  ["gfci", "gfci"],
  ["afci", "afci"],
  ["dual", "dual"],
  ["fuse", "fuse"],
];

interface Props {
  face: Face;
  open: boolean;
  put: Spaces["put"];
  onClose: () => void;
}

/** For fingers: the same notation put together by taps, beginning with what stands there. */
export function SpaceDialog({ face, open, put, onClose }: Props) {
  const { chosen, choose } = useHouseView();
  const tapped = face.spaces.find((s) => s.space === chosen.space);
  // What reaches down from above is entered where it begins.
  const space = tapped?.covered_by != null ? face.spaces.find((s) => s.space === tapped.covered_by) : tapped;
  // The next one that nobody spoke of comes by itself: a panel is entered in one go.
  const goOn = (from: number, text: string) => {
    const next = after(face, from, text).find((s) => s.text === "");
    if (next === undefined || text === "") {
      onClose();
    } else {
      choose({ space: next.space });
    }
  };
  return (
    <Dialog
      open={open && space !== undefined}
      onClose={onClose}
      fullWidth
      aria-labelledby="space-title"
      slotProps={{ paper: { sx: { m: 1, width: "calc(100% - 16px)", maxHeight: "calc(100% - 16px)" } } }}
    >
      {space !== undefined && (
        <SpaceTaps
          key={space.space}
          face={face}
          space={space}
          put={put}
          onClose={onClose}
          onTaken={(text) => goOn(space.space, text)}
        />
      )}
    </Dialog>
  );
}

interface TapsProps {
  face: Face;
  space: Face["spaces"][number];
  put: Spaces["put"];
  onClose: () => void;
  onTaken: (text: string) => void;
}

function SpaceTaps({ face, space, put, onClose, onTaken }: TapsProps) {
  const [now] = useState(() => standing(face, space));
  const [body, setBody] = useState<Body>(now?.body ?? "full");
  const [slots, setSlots] = useState<Slot[]>(now?.slots ?? []);
  // What only the notation can say is shown, and changed, as it is written.
  const [text, setText] = useState(now === undefined ? space.text : undefined);
  const [asked, setAsked] = useState<string>();
  const [begun] = useState(useRevisionSeen(useHouseView().id));
  const take = useMutation({
    mutationFn: (typed: string) => put(space.space, typed, begun, asked === typed),
    onError: (error, typed) => setAsked(isQuestion(error) ? typed : undefined),
    onSuccess: (taken) => taken !== undefined && onTaken(taken),
  });
  const change = (nth: number, part: Partial<Slot>) =>
    setSlots((old) => old.map((slot, i) => (i === nth ? { ...slot, ...part } : slot)));
  const lieAs = (next: Body) => {
    setBody(next);
    setSlots((old) => bodies[next].places.map(([, poles], i) => ({ ...(old[i] ?? freshSlot(poles)), poles })));
  };
  const entered = space.text !== "" && space.text !== "-";
  return (
    <>
      <DialogTitle id="space-title" sx={{ pr: 11 }}>
        Space {space.space}
      </DialogTitle>
      <CloseButton onClose={onClose} />
      <DialogContent>
        <Stack spacing={2}>
          {text !== undefined ? (
            <TextField
              label="As it is written"
              value={text}
              onChange={(event) => setText(event.target.value)}
              slotProps={{ htmlInput: { className: "mono", autoComplete: "off", spellCheck: false } }}
              sx={{ mt: 1 }}
            />
          ) : (
            <>
              <Choice
                name="Size"
                value={body}
                onChoose={(value) => lieAs(value as Body)}
                options={Object.entries(bodies).map(([key, b]) => [key, b.word])}
              />
              {slots.map((slot, nth) => (
                <SlotTaps
                  // Places of a body stay where they are.
                  key={`${body} ${bodies[body].places[nth]?.[0]}`}
                  name={bodies[body].places[nth]?.[0] ?? ""}
                  slot={slot}
                  face={face}
                  ratings={face.ratings}
                  polesOpen={body === "full"}
                  mayBeBare={body !== "full" && slot.poles === 1}
                  onChange={(part) => change(nth, part)}
                />
              ))}
            </>
          )}
          <ProblemNote error={take.error} />
        </Stack>
      </DialogContent>
      <DialogActions sx={{ flexWrap: "wrap", rowGap: 1, "& button": { minHeight: 48 } }}>
        <Button onClick={onClose}>Cancel</Button>
        {entered && (
          <Button disabled={take.isPending} onClick={() => take.mutate("")}>
            Not entered
          </Button>
        )}
        <Button disabled={take.isPending} onClick={() => take.mutate("-")}>
          It is empty
        </Button>
        <Button
          variant="contained"
          disabled={take.isPending}
          onClick={() => take.mutate(text ?? notation(body, slots, true))}
        >
          Enter {text ?? notation(body, slots, false)}
        </Button>
      </DialogActions>
    </>
  );
}

/** Larger ratings are one tap further away. */
const USUAL_UP_TO = 60;
const MORE = "more";

interface SlotProps {
  face: Face;
  name: string;
  slot: Slot;
  ratings: number[];
  polesOpen: boolean;
  mayBeBare: boolean;
  onChange: (part: Partial<Slot>) => void;
}

function SlotTaps({ face, name, slot, ratings, polesOpen, mayBeBare, onChange }: SlotProps) {
  const of = name === "" ? "" : `, ${name.toLowerCase()}`;
  const [all, setAll] = useState(false);
  const amps = (ratings.includes(slot.amps) ? ratings : [...ratings, slot.amps].sort((a, b) => a - b)).filter(
    (a) => all || a <= USUAL_UP_TO || a === slot.amps,
  );
  return (
    <Stack spacing={1.5} sx={name === "" ? {} : { borderTop: 1, borderColor: "divider", pt: 1.5 }}>
      {name !== "" && (
        <Typography variant="h3" component="h2">
          {name}
        </Typography>
      )}
      {mayBeBare && (
        <Choice
          name={`What stands there${of}`}
          value={slot.what}
          onChoose={(what) => onChange({ what: what as Slot["what"] })}
          options={[
            ["breaker", "a breaker"],
            ["free", "nothing"],
            ["unknown", "not looked at"],
          ]}
        />
      )}
      {slot.what === "breaker" && (
        <>
          <Choice
            name={`Amperes on the handle${of}`}
            value={String(slot.amps)}
            onChoose={(value) => (value === MORE ? setAll(true) : onChange({ amps: Number(value) }))}
            options={[
              ...amps.map((a): [string, string] => [String(a), String(a)]),
              ...(all ? [] : [[MORE, "more …"] as [string, string]]),
            ]}
          />
          {polesOpen && (
            <Choice
              name="Poles"
              value={String(slot.poles)}
              onChoose={(value) => onChange({ poles: Number(value) })}
              options={["1", "2", "3"].map((p) => [p, p])}
            />
          )}
          <Choice name={`Type${of}`} value={slot.type} onChoose={(type) => onChange({ type })} options={types} />
          <TextField
            label={`Old label, as found${of}`}
            value={slot.label}
            onChange={(event) => onChange({ label: event.target.value })}
            helperText={poorLabel(face, slot.label)}
          />
          {(slot.rest !== "" || slot.asFound) && (
            <Typography sx={{ color: "text.secondary" }}>
              Stays as it is:{" "}
              <span className="mono">{[slot.asFound ? "as found" : "", slot.rest].join(" ").trim()}</span>
            </Typography>
          )}
        </>
      )}
    </Stack>
  );
}

/** Why an old label tells too little, with what the map would say. */
function poorLabel(face: Face, label: string): string | undefined {
  const breaker = face.breakers.find((b) => b.label === label && b.poor != null);
  const better = breaker?.words[0];
  return breaker === undefined
    ? undefined
    : `${breaker.poor}${better === undefined ? "" : `. The map says: ${better}`}.`;
}

interface ChoiceProps {
  name: string;
  value: string;
  onChoose: (value: string) => void;
  options: [string, string][];
}

function Choice({ name, value, onChoose, options }: ChoiceProps) {
  return (
    <div>
      <Typography variant="h3">{name}</Typography>
      <ToggleButtonGroup
        exclusive
        value={value}
        aria-label={name}
        onChange={(_, v: string | null) => v !== null && onChoose(v)}
        // In several rows each button has its own frame.
        sx={{
          flexWrap: "wrap",
          gap: 0.5,
          "& .MuiToggleButton-root.MuiToggleButton-root": { border: 1, borderColor: "divider", borderRadius: 1, m: 0 },
        }}
      >
        {options.map(([option, word]) => (
          <ToggleButton key={option} value={option} sx={{ minWidth: 48, minHeight: 48 }}>
            {word}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </div>
  );
}
