/** A room's opening sentence; what stands between ** is set bold. */
export function Sentence({ text }: { text: string }) {
  return (
    <>
      {text.split("**").map((piece, index) =>
        index % 2 === 1 ? (
          <strong key={index} className="font-bold text-ink">
            {piece}
          </strong>
        ) : (
          <span key={index}>{piece}</span>
        ),
      )}
    </>
  );
}
