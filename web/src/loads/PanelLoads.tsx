import { Box, Stack, Typography, useMediaQuery } from "@mui/material";
import { useTheme } from "@mui/material/styles";
import type { CircuitLoad, Schemas } from "../api/client";
import { useSize } from "../parts/size";
import { Axis, Bar, ofLeg, type Scale, scaleOf } from "./bars";
import { CircuitDetail } from "./CircuitDetail";

interface Props {
  legs: Schemas["PanelLegs"];
  /** Its circuits, the fullest first. */
  circuits: readonly CircuitLoad[];
  open: number | undefined;
  onOpen: (breaker: number | undefined) => void;
}

/** Beside the bar at the desk: number and words, then rating and reading. */
const WORDS = 290;
const NUMBERS = 118;
const LEAST = 160;

/** A panel: its legs on one scale, its circuits on another, both in amperes. */
export function PanelLoads({ legs, circuits, open, onOpen }: Props) {
  const wide = useMediaQuery(useTheme().breakpoints.up("sm"));
  const [box, size] = useSize<HTMLElement>();
  const width = Math.max(LEAST, wide ? size.width - WORDS - NUMBERS : size.width);
  const coming = scaleOf(
    [legs.rating ?? 0, ...legs.each.map((leg) => Math.max(leg.usual, leg.read?.amps ?? 0))],
    width,
  );
  const scale = scaleOf(
    circuits.map((c) => Math.max(c.rating, c.usual, c.measured?.amps ?? 0)),
    width,
  );
  return (
    <Stack ref={box} component="section" spacing={1} aria-label={`Panel ${legs.panel}`}>
      <Typography variant="h3" component="h2">
        Panel {legs.panel}
      </Typography>
      {size.width > 0 && (
        <>
          <Box role="img" aria-label={told(legs)}>
            <Line wide={wide} bar={<Axis scale={coming} />} />
            {legs.each.map((leg) => (
              <Line
                key={leg.leg}
                wide={wide}
                words={<strong>leg {leg.leg}</strong>}
                bar={<Bar scale={coming} of={ofLeg(leg, legs)} height={30} />}
                numbers={`${leg.usual.toFixed(0)} of ${legs.rating ?? "?"} A`}
              />
            ))}
            <Line
              wide={wide}
              words={<strong>neutral</strong>}
              bar={
                <Bar
                  scale={coming}
                  of={{
                    base: 0,
                    usual: legs.neutral,
                    worst: legs.neutral,
                    read: legs.neutral_read?.amps,
                    open: legs.unknown > 0,
                  }}
                  height={24}
                />
              }
              numbers={`${legs.neutral.toFixed(0)} A`}
            />
          </Box>
          <Typography>{legs.said}.</Typography>
          {legs.moves.map((move) => (
            <Typography key={move.at} sx={{ color: "text.secondary" }}>
              {move.said}
            </Typography>
          ))}
          {circuits.length > 0 && (
            <Box>
              <Line wide={wide} words={wide ? "The fullest first" : undefined} bar={<Axis scale={scale} />} />
              {circuits.map((circuit) => (
                <Circuit
                  key={circuit.breaker}
                  circuit={circuit}
                  scale={scale}
                  wide={wide}
                  open={open === circuit.breaker}
                  onOpen={() => onOpen(open === circuit.breaker ? undefined : circuit.breaker)}
                />
              ))}
            </Box>
          )}
        </>
      )}
    </Stack>
  );
}

function told(legs: Schemas["PanelLegs"]): string {
  const each = legs.each.map((leg) => `leg ${leg.leg} ${leg.usual.toFixed(0)} A`).join(", ");
  const rating = legs.rating == null ? "" : `, rating ${legs.rating} A`;
  return `${legs.panel} at the usual peak: ${each}, neutral ${legs.neutral.toFixed(0)} A${rating}`;
}

interface LineProps {
  wide: boolean;
  words?: React.ReactNode;
  bar: React.ReactNode;
  numbers?: React.ReactNode;
}

/** Words, a bar and numbers beside each other; on a phone the bar below. */
function Line({ wide, words, bar, numbers }: LineProps) {
  return (
    <Box
      sx={{
        display: "grid",
        width: "100%",
        alignItems: "center",
        gridTemplateColumns: wide ? `${WORDS}px 1fr ${NUMBERS}px` : "1fr auto",
        "& > :nth-of-type(2)": wide ? {} : { gridRow: 2, gridColumn: "1 / -1" },
      }}
    >
      <Box sx={{ minWidth: 0, pr: 1 }}>{words}</Box>
      <Box>{bar}</Box>
      <Box className="mono" sx={{ pl: 1, fontSize: 14, textAlign: "right", whiteSpace: "nowrap" }}>
        {numbers}
      </Box>
    </Box>
  );
}

interface CircuitProps {
  circuit: CircuitLoad;
  scale: Scale;
  wide: boolean;
  open: boolean;
  onOpen: () => void;
}

/** A circuit in a row; why it is so, and what may be tried, folds out below. */
function Circuit({ circuit, scale, wide, open, onOpen }: CircuitProps) {
  const { palette } = useTheme();
  const { base, usual, worst, rating, measured, unmet, unknown } = circuit;
  const warns = circuit.warns || unmet.length > 0;
  const carried = { base, usual, worst, rating, read: measured?.amps, open: unknown.length > 0 };
  return (
    <Box sx={{ borderTop: 1, borderColor: "divider" }}>
      <Box
        component="button"
        onClick={onOpen}
        aria-expanded={open}
        sx={{
          all: "unset",
          display: "flex",
          width: "100%",
          minHeight: { xs: 44, md: 40 },
          alignItems: "center",
          cursor: "pointer",
          "&:hover": { bgcolor: "action.hover" },
          "&:focus-visible": { outline: `3px solid ${palette.primary.main}`, outlineOffset: 2 },
        }}
      >
        <Line
          wide={wide}
          words={
            <Typography component="span" noWrap={wide} sx={{ display: "block", fontWeight: warns ? 700 : 400 }}>
              <span className="mono">{circuit.at}</span>{" "}
              {warns && (
                <Box component="span" sx={{ color: "error.main" }}>
                  ⚠{" "}
                </Box>
              )}
              {circuit.name === "" ? "not named" : circuit.name}
            </Typography>
          }
          bar={<Bar scale={scale} of={carried} height={30} />}
          numbers={
            <>
              {usual.toFixed(1)} of {rating} A
              {measured != null && (
                <Box component="span" sx={{ display: "block", color: "text.secondary", fontSize: 12 }}>
                  read {measured.amps.toFixed(1)} A
                </Box>
              )}
            </>
          }
        />
      </Box>
      {open && (
        <Stack spacing={0.5} sx={{ pb: 2 }}>
          <Typography sx={{ fontWeight: circuit.warns ? 650 : 400 }}>
            {circuit.warns && "⚠ "}
            {circuit.said}.
          </Typography>
          {unmet.map((each) => (
            <Typography key={each.said} sx={{ fontWeight: 650 }}>
              ⚠ {each.said} [{each.source}].
            </Typography>
          ))}
          <Typography sx={{ color: "text.secondary" }}>
            {circuit.all_measured ? "All of it is measured." : "Some of it is believed, not measured."}
          </Typography>
          <CircuitDetail circuit={circuit} />
        </Stack>
      )}
    </Box>
  );
}
