import { Box } from "@mui/material";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";

type Fact = Schemas["AsFound"];

/** Drawn where words alone leave one asking what is meant; the question says it in words all the same. */
const pictures: Partial<Record<Fact, ReactNode>> = {
  // Two breakers, and the gap where one is missing.
  opening: (
    <>
      <Breaker y={4} />
      <rect x={40} y={32} width={80} height={26} fill="currentColor" />
      <Breaker y={62} />
    </>
  ),
  // Blunt as it should be; pointed, which cuts a wire.
  screws: (
    <>
      <path d="M36 6h24v8H36zM42 14v44h12V14M42 24h12M42 34h12M42 44h12" />
      <path d="M100 6h24v8h-24zM106 14v34l6 20 6-20V14M106 24h12M106 34h12M106 44h12" />
      <Words x={48} y={88} of="right" />
      <Words x={112} y={88} of="wrong" />
    </>
  ),
  // One plate before two handles: it covers the one or the other.
  interlock: (
    <>
      <rect x={56} y={6} width={48} height={30} rx={3} />
      <rect x={56} y={54} width={48} height={30} rx={3} />
      <rect x={70} y={16} width={20} height={10} rx={2} fill="currentColor" />
      <rect x={70} y={64} width={20} height={10} rx={2} />
      <path d="M48 40h64v10H48zM118 34v22M113 39l5-5 5 5M113 51l5 5 5-5" />
    </>
  ),
  // Thirty inches wide and thirty-six deep, from above.
  blocked: (
    <>
      <path d="M10 10h140M60 10v8h40v-8" />
      <path d="M44 20h72v54H44z" strokeDasharray="5 4" />
      <Words x={80} y={88} of="30 in" />
      <Words x={136} y={50} of="36 in" />
    </>
  ),
  // From the panel to a rod in the ground.
  electrode: (
    <>
      <rect x={30} y={8} width={34} height={46} rx={3} />
      <path d="M10 66h140M64 46h46v20" />
      <path d="M110 62v26" strokeWidth={5} />
    </>
  ),
  // The white wires' bar, and the screw or strap from it to the case.
  bonded: (
    <>
      <path d="M20 82h120V10" />
      <rect x={36} y={24} width={72} height={16} rx={2} />
      <circle cx={50} cy={32} r={4} />
      <circle cx={72} cy={32} r={4} />
      <circle cx={94} cy={32} r={4} fill="currentColor" />
      <path d="M94 36v46" strokeWidth={5} />
      <path d="M108 32h32" strokeDasharray="5 4" />
    </>
  ),
  // Two wires under the one screw.
  "two-under": (
    <>
      <rect x={30} y={30} width={60} height={30} rx={3} />
      <circle cx={80} cy={45} r={7} />
      <path d="M87 43c20-2 30-14 50-14M87 47c20 2 30 14 50 14" strokeWidth={4} />
    </>
  ),
  // Two white wires in one hole of the bar.
  "two-neutrals": (
    <>
      <rect x={24} y={52} width={112} height={18} rx={2} />
      {[44, 66, 88, 110].map((x) => (
        <circle key={x} cx={x} cy={61} r={4} />
      ))}
      <path d="M86 52C86 34 76 26 76 8M90 52c0-18 10-26 10-44M44 52V8" strokeWidth={4} />
    </>
  ),
  // A bare end that goes nowhere.
  "loose-wire": (
    <>
      <path d="M12 80C50 80 44 40 84 40" strokeWidth={7} />
      <path d="M84 40h26" />
      <path d="M122 28v24M134 28v24" strokeDasharray="3 4" />
    </>
  ),
  // Cut, crushed, or with insulation under the screw.
  "rough-ends": (
    <>
      <path d="M10 28h62" strokeWidth={8} />
      <path d="M44 22l6 12 6-12" fill="currentColor" />
      <path d="M72 28h30" />
      <path d="M10 66h90" strokeWidth={8} />
      <circle cx={104} cy={66} r={9} />
    </>
  ),
  // The bracket and screw that keep it from being pulled off.
  "hold-down": (
    <>
      <rect x={44} y={26} width={72} height={34} rx={3} />
      <rect x={70} y={38} width={20} height={10} rx={2} fill="currentColor" />
      <path d="M36 18h12v50H36zM42 18v-8M42 68v12" strokeWidth={4} />
    </>
  ),
  "no-wire": (
    <>
      <Breaker y={30} />
      <circle cx={128} cy={43} r={6} />
    </>
  ),
  // Three holes, and the four of a newer one.
  "three-holes": (
    <>
      <circle cx={44} cy={40} r={32} />
      <path d="M32 26v14M56 26v14M40 58h8v-8" strokeWidth={5} />
      <circle cx={116} cy={40} r={32} />
      <path d="M104 30v14M128 30v14M112 60h8v-8" strokeWidth={5} />
      <circle cx={116} cy={20} r={4} fill="currentColor" />
      <Words x={44} y={87} of="three" />
      <Words x={116} y={87} of="four" />
    </>
  ),
};

function Breaker({ y }: { y: number }) {
  return (
    <>
      <rect x={40} y={y} width={80} height={24} rx={3} />
      <rect x={92} y={y + 7} width={20} height={10} rx={2} fill="currentColor" />
    </>
  );
}

function Words({ x, y, of }: { x: number; y: number; of: string }) {
  return (
    <text x={x} y={y} textAnchor="middle" fontSize={14} fill="currentColor" stroke="none">
      {of}
    </text>
  );
}

/** What is asked about, as a drawing; nothing where words are enough. */
export function LookPicture({ fact }: { fact: Fact }) {
  const picture = pictures[fact];
  return picture === undefined ? null : (
    <Box
      component="svg"
      viewBox="0 0 160 92"
      aria-hidden
      sx={{ width: 160, height: 92, fill: "none", stroke: "currentColor", strokeWidth: 2, mb: 1.5 }}
    >
      {picture}
    </Box>
  );
}
