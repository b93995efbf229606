import { Box, Typography } from "@mui/material";

/** On the panel's face: work keeps it off as a whole. */
export function FaceWork({ work }: { work: readonly string[] }) {
  return work.map((said) => (
    <Box key={said} sx={{ border: 2, borderColor: "error.main", borderRadius: 1, px: 1, py: 0.25 }}>
      <Typography sx={{ fontWeight: 650, fontSize: 14 }}>{said}</Typography>
    </Box>
  ));
}
