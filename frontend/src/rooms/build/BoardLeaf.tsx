import { useState } from "react";
import { useDesign } from "../../api/design";

const PAPERS = ["one sheet", "A4", "A3", "Letter", "Tabloid"];
const PAPER_KEY = "inkthread-paper";
const WIDE_KEY = "inkthread-board-wide";
const MEASURED_KEY = "inkthread-printed-ruler";

/** The board at 1:1: looked at here, printed on tiles or one sheet, or taken to a plotter. */
export function BoardLeaf() {
  const { id, design } = useDesign();
  const [paper, setPaper] = useState(() => window.localStorage.getItem(PAPER_KEY) ?? "A3");
  const [measured, setMeasured] = useState(() => window.localStorage.getItem(MEASURED_KEY) ?? "100");
  const [wide, setWide] = useState(() => window.localStorage.getItem(WIDE_KEY) ?? "");
  const [asked, setAsked] = useState(wide);
  const [refused, setRefused] = useState("");
  const at = `/api/designs/${encodeURIComponent(id)}`;
  const ruler = Number(measured.replace(",", "."));
  const right = ruler >= 50 && ruler <= 200;
  const narrow = Number(asked.replace(",", "."));
  const fold = asked.trim() && narrow > 0 ? `&wide=${narrow}` : "";
  const picture = `${at}/board.svg?small=true&version=${design.version}${fold}`;
  const keep = (key: string, value: string, set: (value: string) => void) => {
    set(value);
    window.localStorage.setItem(key, value);
  };
  return (
    <>
      <p className="mb-3 max-w-[92ch] text-second">
        Every branch as long and as thick as it will be, with ticks each 100 mm, pegs, clamps, where covers end, splices
        and labels. Each printed sheet has a ruler: measure it once, type what it measures, and the next print is true.
      </p>
      <p className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-2">
        <label className="flex items-center gap-2">
          On
          <select className="inkbox" value={paper} onChange={(e) => keep(PAPER_KEY, e.target.value, setPaper)}>
            {PAPERS.map((p) => (
              <option key={p}>{p}</option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          The printed ruler of 100 mm measures
          <input
            className="inkbox w-[80px] font-figures"
            value={measured}
            inputMode="decimal"
            aria-invalid={!right}
            onChange={(e) => keep(MEASURED_KEY, e.target.value, setMeasured)}
          />
          mm
        </label>
        <form
          onSubmit={(e) => {
            e.preventDefault();
            setAsked(wide);
          }}
        >
          <label className="flex items-center gap-2">
            Folded to be no wider than
            <input
              className="inkbox w-[90px] font-figures"
              value={wide}
              inputMode="decimal"
              placeholder="as it is"
              onBlur={() => setAsked(wide)}
              onChange={(e) => keep(WIDE_KEY, e.target.value, setWide)}
            />
            mm
          </label>
        </form>
        {right ? (
          <a
            className="press"
            href={`${at}/board.pdf?paper=${encodeURIComponent(paper)}&measured=${ruler}${fold}`}
            download={`${id}-board.pdf`}
          >
            PDF to print
          </a>
        ) : (
          <span role="alert" className="text-madder">
            It measures between 50 and 200 mm: type 98.7, say.
          </span>
        )}
        <a className="quiet" href={`${at}/board.svg?${fold}`} download={`${id}-board.svg`}>
          SVG
        </a>
        <a className="quiet" href={`${at}/board.dxf?${fold}`} download={`${id}-board.dxf`}>
          DXF
        </a>
      </p>
      {refused && (
        <p role="alert" className="mb-3 max-w-[92ch] text-madder">
          {refused}
        </p>
      )}
      <img
        key={picture}
        src={picture}
        alt={`The board of ${design.document.brief.name}, in small`}
        className={`w-full border border-rule bg-white ${refused ? "hidden" : ""}`}
        onLoad={() => setRefused("")}
        onError={() => {
          // A picture says nothing of why it does not come: what refused it does.
          void fetch(picture)
            .then((reply) => reply.json() as Promise<{ detail?: string }>)
            .then((problem) => setRefused(problem.detail ?? "The board did not come."))
            .catch(() => setRefused("The board did not come. Ask again."));
        }}
      />
    </>
  );
}
