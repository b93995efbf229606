import { TextField } from "@mui/material";

interface Props {
  sought: string;
  onChange: (sought: string) => void;
}

/** Narrows the list of many houses down. */
export default function SearchHouses({ sought, onChange }: Props) {
  return <TextField label="Search houses" value={sought} onChange={(e) => onChange(e.target.value)} fullWidth />;
}
