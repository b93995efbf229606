import { Box, Button, Dialog, DialogActions, DialogContent, Stack, TextField, Typography } from "@mui/material";
import { useRef, useState } from "react";
import type { Picture, PictureOf } from "../api/client";
import { useAddPicture, useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { ProblemNote } from "./ProblemNote";

interface Props {
  of: PictureOf["of"];
  which: number | string;
  title?: string;
  /** Something more to do with a picture. */
  action?: (picture: Picture) => React.ReactNode;
}

function shows(picture: Picture, of: string, which: number | string): boolean {
  const { of: shown, ...rest } = picture.of;
  return shown === of && Object.values(rest)[0] === which;
}

/** Pictures of a thing; new ones come from the camera or a file. */
export function Pictures({ of, which, title = "Pictures", action }: Props) {
  const { id, house } = useHouseView();
  const add = useAddPicture(id);
  const input = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState<Picture>();
  const list = (house.pictures ?? []).filter((p) => shows(p, of, which));
  return (
    <Box>
      <Typography variant="h3" gutterBottom>
        {title}
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1, mb: 1 }}>
        {list.map((picture) => (
          <Box key={picture.id}>
            <Button onClick={() => setOpen(picture)} sx={{ p: 0.5 }} aria-label={picture.caption || "picture"}>
              <img
                src={`/api/v1/houses/${id}/pictures/${picture.id}`}
                alt={picture.caption ?? ""}
                style={{ height: 96, maxWidth: 200, objectFit: "cover", display: "block" }}
              />
            </Button>
            {action?.(picture)}
          </Box>
        ))}
      </Stack>
      <input
        ref={input}
        type="file"
        hidden
        accept="image/jpeg,image/png,image/webp,image/svg+xml"
        aria-label={`Add to ${title}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file !== undefined) {
            add.mutate({ file, of, which: String(which) });
          }
          event.target.value = "";
        }}
      />
      <Button variant="outlined" disabled={add.isPending} onClick={() => input.current?.click()}>
        {add.isPending ? "Adding …" : "Add a picture"}
      </Button>
      <ProblemNote error={add.error} />
      <Dialog open={open !== undefined} onClose={() => setOpen(undefined)} maxWidth="lg" aria-label="Picture">
        {open !== undefined && <Large key={open.id} picture={open} onDone={() => setOpen(undefined)} />}
      </Dialog>
    </Box>
  );
}

function Large({ picture, onDone }: { picture: Picture; onDone: () => void }) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const [caption, setCaption] = useState(picture.caption ?? "");
  return (
    <>
      <DialogContent>
        <img
          src={`/api/v1/houses/${id}/pictures/${picture.id}`}
          alt={picture.caption ?? ""}
          style={{ maxWidth: "100%", maxHeight: "65vh", display: "block" }}
        />
        <TextField
          label="What there is to see"
          fullWidth
          value={caption}
          onChange={(e) => setCaption(e.target.value)}
          sx={{ mt: 2 }}
        />
        <Typography sx={{ color: "text.secondary", mt: 1 }}>
          {picture.who}, {new Date(picture.time).toLocaleDateString()}. Kept without place, time or device of the
          camera.
        </Typography>
        <ProblemNote error={commit.error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={() => commit.mutate({ type: "remove-picture", picture: picture.id }, { onSuccess: onDone })}>
          Take out
        </Button>
        <Button onClick={onDone}>Close</Button>
        <Button
          variant="contained"
          onClick={() =>
            commit.mutate({ type: "put-picture", picture: { ...picture, caption } }, { onSuccess: onDone })
          }
        >
          Save
        </Button>
      </DialogActions>
    </>
  );
}
