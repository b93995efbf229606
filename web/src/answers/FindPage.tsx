import { Box, Stack, Typography } from "@mui/material";
import { useEffect, useEffectEvent } from "react";
import { useSearchParams } from "react-router";
import { useHouseView } from "../app/house";
import { Search } from "../parts/FindBox";
import { HouseIndex } from "./HouseIndex";
import { QuickPick } from "./QuickPick";

/** What feeds this: found by what people call it. */
export function FindPage() {
  const { house, choose } = useHouseView();
  const named = Number(useSearchParams()[0].get("point"));
  const open = useEffectEvent(() => house.points.some((p) => p.id === named) && choose({ point: named }));
  // A code behind a cover plate opens what is there.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each point that is named
  useEffect(() => {
    open();
  }, [named]);
  return (
    <Stack spacing={2} sx={{ maxWidth: 820 }}>
      <Typography variant="h2" component="h1">
        What feeds this?
      </Typography>
      <Box className="no-print">
        <Search onDone={() => undefined} />
      </Box>
      {house.points.length > 0 && (
        <QuickPick
          label="What feeds this"
          options={house.points}
          brushes={[{ said: "looked at", mark: "check", value: [] }]}
          onTap={(point) => choose({ point })}
        />
      )}
      <HouseIndex />
    </Stack>
  );
}
