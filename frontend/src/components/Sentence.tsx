import { Link, useParams } from "react-router";

/** A room's opening sentence; what stands between ** is set bold, and leads to its place where it names one. */
export function Sentence({ text }: { text: string }) {
  const { id } = useParams();
  return (
    <>
      {text.split("**").map((piece, index) => {
        if (index % 2 === 0) return <span key={index}>{piece}</span>;
        const bar = piece.startsWith("@") ? piece.indexOf("|") : -1;
        if (bar < 0 || id === undefined)
          return (
            <strong key={index} className="font-bold text-ink">
              {piece.slice(bar + 1)}
            </strong>
          );
        return (
          <Link key={index} className="quiet font-bold" to={`/d/${id}/${piece.slice(1, bar)}`}>
            {piece.slice(bar + 1)}
          </Link>
        );
      })}
    </>
  );
}
