import { Box, Button } from "@mui/material";
import { Link } from "react-router";

/** A large way in: a question in the words of whoever has it, and what comes of it. */
export function Door({ to, title, under }: { to: string; title: string; under: string }) {
  return (
    <Button
      component={Link}
      to={to}
      variant="outlined"
      sx={{
        flex: "1 1 260px",
        minHeight: 76,
        flexDirection: "column",
        alignItems: "flex-start",
        textAlign: "left",
        px: 2,
      }}
    >
      <Box component="span" sx={{ fontSize: "1.15rem" }}>
        {title}
      </Box>
      <Box component="span" sx={{ fontWeight: 400 }}>
        {under}
      </Box>
    </Button>
  );
}
