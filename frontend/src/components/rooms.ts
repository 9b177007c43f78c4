/** The ten rooms in the order the trade works, by the names that all parts of the program use. */
export const ROOMS = [
  ["brief", "Brief"],
  ["circuits", "Circuits"],
  ["route", "Route"],
  ["wire", "Wire"],
  ["ends", "Ends"],
  ["cut", "Cut"],
  ["dress", "Dress"],
  ["parts", "Parts"],
  ["build", "Build"],
  ["prove", "Prove"],
] as const;
