import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, data, type HouseItem } from "../api/client";
import { ProblemNote } from "../parts/ProblemNote";

/** Asks for the name of a copy, and makes it. */
export default function CopyHouse({ house, onDone }: { house: HouseItem; onDone: () => void }) {
  return (
    <Dialog open onClose={onDone} aria-labelledby="copy-title">
      <Copy house={house} onDone={onDone} />
    </Dialog>
  );
}

function Copy({ house, onDone }: { house: HouseItem; onDone: () => void }) {
  const queries = useQueryClient();
  const [name, setName] = useState(`${house.name}, copy`);
  const copy = useMutation({
    mutationFn: () =>
      data(client.POST("/api/v1/houses/{id}/duplicate", { params: { path: { id: house.id } }, body: { name } })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["houses"] });
      onDone();
    },
  });
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault();
        copy.mutate();
      }}
    >
      <DialogTitle id="copy-title">Duplicate {house.name}</DialogTitle>
      <DialogContent>
        <TextField
          label="Name of the copy"
          value={name}
          autoFocus
          fullWidth
          onChange={(e) => setName(e.target.value)}
          sx={{ mt: 1 }}
        />
        <ProblemNote error={copy.error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onDone}>Cancel</Button>
        <Button type="submit" variant="contained" disabled={copy.isPending || name.trim() === ""}>
          Make the copy
        </Button>
      </DialogActions>
    </Box>
  );
}
