import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { ProjectPage } from "./shell/ProjectPage";
import { StartedAgain } from "./shell/StartedAgain";
import { Shelf } from "./shelf/Shelf";

export function App() {
  return (
    <BrowserRouter>
      <Routes>
        <Route path="/" element={<Shelf />} />
        <Route path="/project/:id" element={<Navigate to="ground" replace />} />
        <Route path="/project/:id/:waypoint" element={<ProjectPage />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
      <StartedAgain />
    </BrowserRouter>
  );
}
