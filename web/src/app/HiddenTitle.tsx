import { Box } from "@mui/material";
import { visuallyHidden } from "@mui/utils";
import { useHouseView } from "./house";

/** The heading of a page that shows none, for who listens. */
export function HiddenTitle({ label }: { label: string }) {
  const { house } = useHouseView();
  return (
    <Box component="h1" sx={visuallyHidden}>
      {label}: {house.about.name}
    </Box>
  );
}
