import "./app/fonts.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./app/App";

const root = document.getElementById("root");
if (root === null) {
  throw new Error("the page has no root");
}
createRoot(root).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
