import { Button } from "@mui/material";
import { Link } from "react-router";
import { useSession } from "../api/reads";

/** To the page by which a phone joins; on a phone that has joined there is nothing to let in. */
export function PhoneButton() {
  const session = useSession();
  return (
    session.data?.here === true && (
      <Button component={Link} to="/phone">
        Phone
      </Button>
    )
  );
}
