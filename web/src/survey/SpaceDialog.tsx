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
import { useState } from "react";
import type { Face } from "../api/client";
import { useRevisionSeen } from "../api/edits";
import { useHouseView } from "../house";
import { ProblemNote } from "../parts/ProblemNote";
import { useSpace } from "./SpaceFields";

const ratings = ["15", "20", "25", "30", "40", "50", "60"];
const types = ["", "gfci", "afci", "dual", "fuse"];

interface Props {
  face: Face;
  open: boolean;
  onClose: () => void;
}

/** For fingers: the same notation put together by taps. */
export function SpaceDialog({ face, open, onClose }: Props) {
  const { chosen } = useHouseView();
  const space = chosen.space;
  return (
    <Dialog open={open && space !== undefined} onClose={onClose} fullWidth aria-labelledby="space-title">
      {space !== undefined && <SpaceTaps key={space} panel={face.panel} space={space} onClose={onClose} />}
    </Dialog>
  );
}

function SpaceTaps({ panel, space, onClose }: { panel: number; space: number; onClose: () => void }) {
  const [rating, setRating] = useState("20");
  const [poles, setPoles] = useState("");
  const [type, setType] = useState("");
  const [label, setLabel] = useState("");
  const take = useSpace(panel, space);
  const [begun] = useState(useRevisionSeen(useHouseView().id));
  const text = [`${poles}${rating}`, type, label.trim()].filter((part) => part !== "").join(" ");
  const put = (notation: string) => take.mutate({ text: notation, base: begun }, { onSuccess: onClose });
  const choice = (name: string, value: string, set: (value: string) => void, options: [string, string][]) => (
    <div>
      <Typography variant="h3">{name}</Typography>
      <ToggleButtonGroup
        exclusive
        value={value}
        aria-label={name}
        onChange={(_, v: string | null) => v !== null && set(v)}
        sx={{ flexWrap: "wrap" }}
      >
        {options.map(([option, word]) => (
          <ToggleButton key={option} value={option} sx={{ minWidth: 48, minHeight: 48 }}>
            {word}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </div>
  );
  return (
    <>
      <DialogTitle id="space-title">Space {space}</DialogTitle>
      <DialogContent>
        <Stack spacing={2}>
          {choice(
            "Amperes on the handle",
            rating,
            setRating,
            ratings.map((r) => [r, r]),
          )}
          {choice("Poles", poles, setPoles, [
            ["", "1"],
            ["2p", "2"],
            ["3p", "3"],
          ])}
          {choice(
            "Type",
            type,
            setType,
            types.map((t) => [t, t === "" ? "plain" : t]),
          )}
          <TextField label="Old label, as found" value={label} onChange={(event) => setLabel(event.target.value)} />
          <ProblemNote error={take.error} />
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button onClick={() => put("-")}>It is empty</Button>
        <Button variant="contained" onClick={() => put(text)}>
          Enter {text}
        </Button>
      </DialogActions>
    </>
  );
}
