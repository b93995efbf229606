import { Button, Checkbox, FormControlLabel, MenuItem, Stack, TextField } from "@mui/material";
import { useState } from "react";
import { words } from "../api/core.gen.json";
import { useCatalog } from "../api/reads";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { useFeeds } from "../parts/useFeeds";
import { breakerName, named } from "../parts/words";
import { type Answer, type Answers, answerIn, asked, type Field, type Kind, wish } from "./answers";

interface Props {
  kind: Kind;
  answers: Answers;
  /** Fields in which something stands that is no number (yet). */
  unread: readonly string[];
  onChange: (answers: Answers, unread: readonly string[]) => void;
  /** The question that is at hand: taps on the panel answer it. */
  onAt: (field: string) => void;
}

/** What a kind of job asks, as the core declares it. */
export function JobForm({ kind, answers, unread, onChange, onAt }: Props) {
  const fields = asked(kind, answers);
  const rare = fields.filter((field) => field.rare);
  const [more, setMore] = useState(rare.some((field) => (answers[field.name] ?? "") !== ""));
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5, alignItems: "flex-start" }}>
      {fields
        .filter((field) => more || !field.rare)
        .map((field) => (
          <Stack
            key={field.name}
            direction="row"
            // A panel is not asked for where there is one; what shows nothing takes no room.
            sx={{ gap: 1.5, maxWidth: "100%", "&:empty": { display: "none" } }}
            onFocus={() => onAt(field.name)}
          >
            <Question
              field={field}
              answer={answerIn(field, answers)}
              onAnswer={(answer, no) => {
                const others = unread.filter((name) => name !== field.name);
                onChange({ ...answers, [field.name]: answer }, no ? [...others, field.name] : others);
              }}
            />
          </Stack>
        ))}
      {rare.length > 0 && !more && (
        <Button onClick={() => setMore(true)} sx={{ alignSelf: "end", minHeight: 48 }}>
          More …
        </Button>
      )}
    </Stack>
  );
}

interface OfField {
  field: Field;
  answer: Answer;
  onAnswer: (answer: Answer, unread?: boolean) => void;
}

function Question(of: OfField) {
  const { field, answer, onAnswer } = of;
  switch (field.sort) {
    case "breaker":
    case "breakers":
      return <BreakerField {...of} />;
    case "panel":
    case "room":
      return <OneOf {...of} />;
    case "point":
      return <PointField {...of} />;
    case "load":
      return <LoadField {...of} />;
    case "number":
    case "space":
      return (
        <NumberField
          label={field.label}
          unit={field.sort === "space" ? "number" : field.unit || "count"}
          optional={!field.required}
          value={typeof answer === "number" ? answer : null}
          onChange={(value, typed) => onAnswer(value, typed.unread)}
        />
      );
    case "choice":
      return <Choice {...of} options={field.choices ?? []} />;
    case "thing":
      return <Choice {...of} options={Object.entries(words.LoadKind)} />;
    case "yes-no":
      return <YesNo {...of} />;
    case "tick":
      return (
        <FormControlLabel
          control={<Checkbox checked={answer === true} onChange={(_, checked) => onAnswer(checked)} />}
          label={field.label}
        />
      );
    case "wishes":
      return <WishField {...of} />;
    case "poles":
    case "half-sizes":
    case "text":
      return <TextAnswer {...of} />;
  }
}

function TextAnswer({ field, answer, onAnswer }: OfField) {
  const usual = useCatalog().data?.loads ?? [];
  const text = String(answer ?? "");
  const known = field.name === "name" ? usual.find((u) => u.name === text.trim().toLowerCase()) : undefined;
  const typically = known && `typically ${known.low} to ${known.high} A: its nameplate is better`;
  return (
    <TextField
      label={field.label}
      value={text}
      onChange={(e) => onAnswer(e.target.value)}
      helperText={typically ?? field.help}
      slotProps={{ htmlInput: { className: field.sort === "poles" ? "mono" : undefined } }}
    />
  );
}

function Choice({ field, answer, onAnswer, options }: OfField & { options: [string, string][] }) {
  return (
    <TextField
      select
      label={field.label}
      value={String(answer ?? "")}
      onChange={(e) => onAnswer(e.target.value)}
      sx={{ minWidth: 150 }}
    >
      {options.map(([code, word]) => (
        <MenuItem key={code} value={code}>
          {word}
        </MenuItem>
      ))}
    </TextField>
  );
}

function YesNo({ field, answer, onAnswer }: OfField) {
  return (
    <TextField
      select
      label={field.label}
      value={answer === true ? "yes" : answer === false ? "no" : ""}
      onChange={(e) => onAnswer(e.target.value === "" ? null : e.target.value === "yes")}
      sx={{ minWidth: 220 }}
    >
      <MenuItem value="">not looked yet</MenuItem>
      <MenuItem value="yes">yes</MenuItem>
      <MenuItem value="no">no</MenuItem>
    </TextField>
  );
}

/** Breakers, by their places and what they feed as far as believed. */
function BreakerField({ field, answer, onAnswer }: OfField) {
  const { house } = useHouseView();
  const feeds = useFeeds();
  const several = field.sort === "breakers";
  return (
    <TextField
      select
      label={field.label}
      value={answer ?? (several ? [] : "")}
      onChange={(e) => {
        const said = e.target.value as unknown as number | string | (number | string)[];
        onAnswer(Array.isArray(said) ? said.map(Number) : Number(said));
      }}
      sx={{ minWidth: 240 }}
      slotProps={{ select: { multiple: several } }}
    >
      {house.breakers.map((b) => (
        <MenuItem key={b.id} value={b.id}>
          {breakerName(house, named(house, b))}
          {feeds(b.id)}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** A point, by its name with its room. */
function PointField({ field, answer, onAnswer }: OfField) {
  const { house } = useHouseView();
  const room = (id: number) => house.rooms.find((r) => r.id === id)?.name ?? "";
  return (
    <TextField
      select
      label={field.label}
      value={answer ?? ""}
      onChange={(e) => onAnswer(Number(e.target.value))}
      sx={{ minWidth: 260, maxWidth: "100%" }}
    >
      {house.points.map((point) => (
        <MenuItem key={point.id} value={point.id}>
          {room(point.room)}: {point.name || point.kind} ({point.tag})
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Something that draws, by its name with the tag of its place. */
function LoadField({ field, answer, onAnswer }: OfField) {
  const { house } = useHouseView();
  const tag = (id: number) => house.points.find((p) => p.id === id)?.tag ?? "";
  return (
    <TextField
      select
      label={field.label}
      value={answer ?? ""}
      onChange={(e) => onAnswer(e.target.value === "" ? null : Number(e.target.value))}
      sx={{ minWidth: 220 }}
    >
      <MenuItem value="">what is told below</MenuItem>
      {(house.loads ?? []).map((load) => (
        <MenuItem key={load.id} value={load.id}>
          {load.name} ({tag(load.point)})
        </MenuItem>
      ))}
    </TextField>
  );
}

/** One of the house's rooms or panels; the panel is asked for where there are several. */
function OneOf({ field, answer, onAnswer }: OfField) {
  const { house, panel } = useHouseView();
  const [things, shown] = field.sort === "room" ? [house.rooms, undefined] : [house.panels, panel];
  if (field.sort === "panel" && things.length < 2) {
    return null;
  }
  return (
    <TextField
      select
      label={field.label}
      value={answer ?? shown ?? ""}
      onChange={(e) => onAnswer(Number(e.target.value))}
      sx={{ minWidth: 170 }}
    >
      {things.map((thing) => (
        <MenuItem key={thing.id} value={thing.id}>
          {thing.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

function WishField({ field, answer, onAnswer }: OfField) {
  const { poles, space } = wish(String(answer ?? ""));
  const say = (next: { poles?: string; space?: string }) => {
    const [at, many] = [next.space ?? space, next.poles ?? poles];
    onAnswer(at === "" ? many : `${at}=${many}`);
  };
  return (
    <>
      <TextField
        select
        label={field.label}
        value={poles}
        onChange={(e) => say({ poles: e.target.value })}
        sx={{ minWidth: 150 }}
      >
        <MenuItem value="1p">one pole: one space</MenuItem>
        <MenuItem value="2p">two poles: two adjacent spaces</MenuItem>
        <MenuItem value="3p">three poles</MenuItem>
      </TextField>
      <NumberField
        label="At this space, if it matters"
        unit="number"
        optional
        value={space === "" ? null : Number(space)}
        onChange={(value) => say({ space: value === null ? "" : String(value) })}
      />
    </>
  );
}
