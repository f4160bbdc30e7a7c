/** Files of the programs that the server starts. Here, because built into one file each they lie beside it as they do beside this one. */
export const PROGRAMS = {
  poolThread: new URL('./compute/compute.worker.js', import.meta.url),
  simulatedLogger: new URL('./simulated-logger/main.js', import.meta.url),
} as const;
