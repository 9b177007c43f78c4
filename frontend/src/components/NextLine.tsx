import { Link } from "react-router";
import { useDesign } from "../api/design";
import { nextOf } from "./next";

/** What to do next, in one line that leads there. */
export function NextLine({ room }: { room: string }) {
  const { design } = useDesign();
  const next = nextOf(room, design);
  if (!next) return null;
  return (
    <p data-testid="next" className="mt-0.5 text-second">
      {next.lead}:{" "}
      <Link className="quiet" to={next.to}>
        {next.text}
      </Link>
      {next.more > 0 && (
        <>
          , then{" "}
          <Link className="quiet" to={`/d/${design.id}/findings`}>
            {next.more} more
          </Link>
        </>
      )}
      .
    </p>
  );
}
