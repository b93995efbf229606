import { Box, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { Legend } from "./Legend";
import { type Lens, lenses, lensWord } from "./lens";

interface Props {
  /** What a page asks for: it goes before all else. */
  asked: { what: string; optional?: boolean } | undefined;
  lens: Lens;
  onLens: (lens: Lens) => void;
}

/** Over the panel, always as high: what is to be tapped now, else what it is looked at for. */
export function FaceHead({ asked, lens, onLens }: Props) {
  return (
    <Box sx={{ minHeight: 40, display: "flex", alignItems: "center" }} aria-live="polite">
      {asked !== undefined ? (
        <Typography
          sx={{
            flexGrow: 1,
            fontWeight: 700,
            px: 1.25,
            py: 0.75,
            borderRadius: 1,
            ...(asked.optional === true
              ? { border: 1, borderColor: "divider" }
              : { bgcolor: "act.main", color: "act.contrastText" }),
          }}
        >
          {asked.what}
        </Typography>
      ) : (
        <Stack direction="row" sx={{ flexGrow: 1, alignItems: "center", justifyContent: "space-between" }}>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={lens}
            aria-label="What the panel shows"
            onChange={(_, value: Lens | null) => value !== null && onLens(value)}
          >
            {lenses.map((each) => (
              <ToggleButton key={each} value={each} sx={{ px: 1.1, py: 0.25, minHeight: 36 }}>
                {lensWord[each]}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          <Legend />
        </Stack>
      )}
    </Box>
  );
}
