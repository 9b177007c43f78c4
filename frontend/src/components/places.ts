import type { DesignReply, Finding } from "../api/client";

/** Where the mend of a finding begins: its address in the harness, and the words that lead there. */
export function placeLink(design: DesignReply, finding: Finding): { to: string; text: string } | null {
  const place = finding.places[0];
  const id = design.id;
  if (!place) return null;
  if (place.kind === "connector") return { to: `/d/${id}/ends/${place.id}`, text: `Go to ${place.id} in Ends` };
  if (place.kind === "pin") {
    const connector = design.document.ends.pinout[place.id]?.connector;
    return { to: `/d/${id}/ends${connector ? `/${connector}` : ""}`, text: `Go to ${place.id} in Ends` };
  }
  if (place.room === "build" && place.kind === "step")
    return { to: `/d/${id}/build?step=${encodeURIComponent(place.id)}`, text: "Go to the step in Build" };
  const room = place.room.charAt(0).toUpperCase() + place.room.slice(1);
  return {
    to: `/d/${id}/${place.room}${place.id ? `?at=${encodeURIComponent(place.id)}` : ""}`,
    text: `Go to ${place.id ? `${place.id} in ` : ""}${room}`,
  };
}
