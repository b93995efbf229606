import { Link as Anchor, Box, Stack, Typography } from "@mui/material";
import { Link, useNavigate } from "react-router";
import { look_for } from "../api/core.gen.json";
import { useShownFace } from "../app/house";
import { PanelFace } from "../face/PanelFace";
import { PanelChoice } from "../parts/PanelChoice";
import { FINGER, useSize } from "../parts/size";

/** Which breaker tripped: chosen on the panel's face, then reset step by step. */
export function TrippedPage() {
  const face = useShownFace();
  const navigate = useNavigate();
  const [box, size] = useSize<HTMLDivElement>();
  return (
    <Stack spacing={2} sx={{ maxWidth: 620 }}>
      <Typography variant="h2" component="h1">
        It tripped: which one?
      </Typography>
      <Typography>
        {look_for} Press it here. None looks so?{" "}
        <Anchor component={Link} to="../dead">
          Say what is dead
        </Anchor>
        : a device with buttons may have tripped instead.
      </Typography>
      <PanelChoice />
      <Box ref={box}>
        {face === undefined ? (
          <Typography>
            No panel is entered yet.{" "}
            <Anchor component={Link} to="../survey">
              Enter it first
            </Anchor>
            .
          </Typography>
        ) : (
          size.width > 0 && (
            <PanelFace
              face={face}
              row={50}
              size={14}
              half={FINGER + 2}
              width={size.width}
              selected={undefined}
              onBreaker={(breaker) => void navigate(`../reset/${breaker}`)}
            />
          )
        )}
      </Box>
    </Stack>
  );
}
