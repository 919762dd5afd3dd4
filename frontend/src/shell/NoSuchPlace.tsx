import { Box, Link, Typography } from "@mui/material";
import { Link as RouterLink } from "react-router";
import { useProject } from "../document/document";
import { WAYPOINTS } from "../waypoints/register";
import { THREADS } from "./ThreadsPage";

/** An address of a project that leads nowhere: says so, and where one can go. */
export function NoSuchPlace({ name }: { name: string }) {
  const { id, document } = useProject();
  const places = [
    ...WAYPOINTS.map(({ name: place, title }) => ({ place, title })),
    { place: THREADS, title: "Threads" },
  ];
  return (
    <Box component="section" aria-label="No such place" sx={{ p: 4, maxWidth: 760, gridColumn: "2 / -1" }}>
      <Typography variant="h1">There is no “{name}” here</Typography>
      <Typography sx={{ mt: 2 }}>
        The address of this page is mistyped, or of another version. {document.name} has these places:
      </Typography>
      <Box component="ul" sx={{ mt: 1.5, lineHeight: 2 }}>
        {places.map(({ place, title }) => (
          <li key={place}>
            <Link component={RouterLink} to={`/project/${id}/${place}`} color="secondary">
              {title}
            </Link>
          </li>
        ))}
      </Box>
    </Box>
  );
}
