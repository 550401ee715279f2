import react from "@vitejs/plugin-react";
import { loadEnv } from "vite";
import { defineConfig } from "vitest/config";

/** Where the application is served while the front end is being written. */
const { NAVREL_APPLICATION = "http://127.0.0.1:8420" } = loadEnv("", ".", "NAVREL_");

export default defineConfig({
  plugins: [react()],
  build: { chunkSizeWarningLimit: 1200, assetsInlineLimit: 0 },
  server: { proxy: { "/api": NAVREL_APPLICATION } },
  test: { css: true, pool: "threads" },
});
