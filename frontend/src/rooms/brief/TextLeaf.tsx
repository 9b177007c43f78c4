import { useQuery } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { answered, client } from "../../api/client";
import { useDesign, useText } from "../../api/design";
import { useSay } from "../../components/Notice";
import { useRested } from "../../components/useRested";

/** The whole harness as typed lines: to read, copy, keep and compare, and to make one from. */
export function TextLeaf() {
  const { design } = useDesign();
  const written = useQuery({
    queryKey: ["text", design.id, design.etag],
    queryFn: () =>
      answered(client.GET("/api/designs/{design_id}/text", { params: { path: { design_id: design.id } } })),
  });
  const { look, put } = useText();
  const say = useSay();
  const box = useRef<HTMLTextAreaElement>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const looked = useRested(
    useCallback(() => (typed === null ? Promise.resolve(null) : look(typed)), [look, typed]),
    250,
  );
  const text = typed ?? written.data?.text ?? "";
  const refused = looked?.problems ?? [];
  const show = (number: number, start: number, end: number) => {
    const before = text
      .split("\n")
      .slice(0, number - 1)
      .reduce((sum, line) => sum + line.length + 1, 0);
    box.current?.focus();
    box.current?.setSelectionRange(before + start, before + end);
  };
  const putIn = async () => {
    if (typed === null || busy) return;
    setBusy(true);
    const found = await put(typed);
    setBusy(false);
    setProblem(found ? found.detail : null);
    if (found) return;
    setTyped((now) => (now === typed ? null : now));
    say("The harness is what the lines say. Ctrl Z takes it back.");
  };
  return (
    <>
      <p className="mb-2 max-w-[86ch] text-second">
        All of this harness as typed lines, in the words of the add lines. Keep it beside your notes, compare two of
        them, or change it here: nothing goes in before every line is understood.
      </p>
      <textarea
        ref={box}
        aria-label="The harness as text"
        value={text}
        placeholder={written.data ? "" : "It is being written out ..."}
        spellCheck={false}
        onChange={(e) => {
          setTyped(e.target.value);
          setProblem(null);
        }}
        className="inkbox block h-[52vh] w-full resize-y font-figures text-plain leading-[1.5]"
        style={{ whiteSpace: "pre", overflowX: "auto" }}
      />
      <div className="mt-2 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <button className="press" disabled={typed === null || busy || refused.length > 0} onClick={() => void putIn()}>
          Put it in
        </button>
        <button
          className="quiet"
          onClick={() => {
            void navigator.clipboard.writeText(text).then(
              () => say("Copied."),
              () => box.current?.select(),
            );
          }}
        >
          copy all of it
        </button>
        {typed !== null && (
          <button className="quiet" onClick={() => setTyped(null)}>
            as it is in the harness
          </button>
        )}
        {looked && refused.length === 0 && <span className="text-second">{looked.made.length} lines understood.</span>}
      </div>
      {problem && (
        <p role="alert" className="mt-1.5 text-plain text-madder">
          {problem}
        </p>
      )}
      {refused.length > 0 && (
        <ul aria-label="Lines that are not understood" className="mt-2 text-plain">
          {refused.map((p) => (
            <li key={`${p.number}-${p.start}`}>
              <button className="quiet font-figures" onClick={() => show(p.number, p.start, p.end)}>
                line {p.number}
              </button>{" "}
              <span className="text-madder">{p.says}</span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
