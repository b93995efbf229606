import { Box, Button, Container, Typography } from "@mui/material";
import { Link, useLocation, useParams } from "react-router";

/** An address that leads nowhere says so, with the way back. */
export function NoSuchPage() {
  const { pathname } = useLocation();
  const { house } = useParams();
  return (
    <Container component={house === undefined ? "main" : "div"} sx={{ py: 4 }}>
      <Typography variant="h2" component="h1" gutterBottom>
        There is no such page
      </Typography>
      <Typography gutterBottom>
        Nothing was lost. The address{" "}
        <Box component="span" className="mono">
          {pathname}
        </Box>{" "}
        leads nowhere.
      </Typography>
      <Button variant="contained" component={Link} to={house === undefined ? "/" : `/houses/${house}/today`}>
        {house === undefined ? "To the houses" : "To the house"}
      </Button>
    </Container>
  );
}
