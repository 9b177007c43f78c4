import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, client, type Schemas } from "../../api/client";
import { useDesign } from "../../api/design";

type Question = Schemas["Question"];
type Probed = { a: string; b: string; shows: string };

const newSeed = () => Math.floor(Math.random() * 2 ** 31);

/** Practice, when one wants it: which way is this, and a fault to be found with a meter. */
export function PracticeLeaf() {
  const [drill, setDrill] = useState<number | null>(null);
  const [fault, setFault] = useState<number | null>(null);
  return (
    <div className="grid grid-cols-1 gap-8 min-[1150px]:grid-cols-2">
      <section>
        <h2 className="text-head">Which way is this?</h2>
        {drill === null ? (
          <>
            <p className="max-w-[60ch] text-second">Ten questions on the faces of this harness, from either side.</p>
            <button className="press mt-2" onClick={() => setDrill(newSeed())}>
              Ask me
            </button>
          </>
        ) : (
          <Drill key={drill} seed={drill} onAgain={() => setDrill(newSeed())} />
        )}
      </section>
      <section>
        <h2 className="text-head">Find the fault</h2>
        {fault === null ? (
          <>
            <p className="max-w-[60ch] text-second">
              A fault is hidden in this harness, on paper only. Measure until you know it; few probes are a good score.
            </p>
            <button className="press mt-2" onClick={() => setFault(newSeed())}>
              Hide one
            </button>
          </>
        ) : (
          <Trainer key={fault} seed={fault} onAgain={() => setFault(newSeed())} />
        )}
      </section>
    </div>
  );
}

function Drill({ seed, onAgain }: { seed: number; onAgain: () => void }) {
  const { id } = useDesign();
  const [nth, setNth] = useState(0);
  const [chosen, setChosen] = useState<string | null>(null);
  const [right, setRight] = useState(0);
  const { data } = useQuery({
    queryKey: ["drill", id, seed],
    staleTime: Infinity,
    queryFn: () =>
      answered(
        client.GET("/api/designs/{design_id}/practice/drill", { params: { path: { design_id: id }, query: { seed } } }),
      ),
  });
  if (!data) return <p className="text-second">Choosing ...</p>;
  if (data.questions.length === 0)
    return <p className="text-second">No connector here has three ways or more: there is nothing to ask.</p>;
  const question = data.questions[nth];
  if (!question)
    return (
      <>
        <p role="status">
          {right} of {data.questions.length} right.
        </p>
        <button className="press mt-2" onClick={onAgain}>
          Ten more
        </button>
      </>
    );
  const choose = (way: string) => {
    if (chosen !== null) return;
    setChosen(way);
    if (way === question.cavity) setRight(right + 1);
  };
  return (
    <>
      <p className="text-second">
        {nth + 1} of {data.questions.length}: {question.connector}, seen from the{" "}
        <strong className="text-ink">{question.side} side</strong>
      </p>
      <BlankFace question={question} />
      <p className="flex flex-wrap gap-3">
        {question.choices.map((way) => (
          <button
            key={way}
            className={`press min-w-[64px] font-figures ${chosen !== null && way === question.cavity ? "border-verdigris text-verdigris" : ""} ${chosen === way && way !== question.cavity ? "border-madder text-madder" : ""}`}
            aria-pressed={chosen === way}
            onClick={() => choose(way)}
          >
            {way}
          </button>
        ))}
      </p>
      {chosen !== null && (
        <p className="mt-2 flex items-baseline gap-4" role="status">
          {chosen === question.cavity ? "Right." : `No: it is ${question.cavity}.`}
          <button
            autoFocus
            className="press"
            onClick={() => {
              setChosen(null);
              setNth(nth + 1);
            }}
          >
            Next
          </button>
        </p>
      )}
    </>
  );
}

/** A face without numbers, one way of it dark. */
function BlankFace({ question }: { question: Question }) {
  const { design } = useDesign();
  const face = design.evaluation.ends.faces[question.face];
  if (!face) return null;
  const view = question.side === "wire" ? face.wire_side : face.mating_side;
  const marks = question.side === "wire" ? face.wire_marks : face.mating_marks;
  const [w, h] = [face.width_mm + 2, face.height_mm + 2];
  return (
    <svg
      viewBox={`${-w / 2} ${-h / 2} ${w} ${h}`}
      className="my-3 max-h-[220px] w-full max-w-[440px]"
      role="img"
      aria-label={`${question.connector} from the ${question.side} side`}
    >
      <g fill="none" stroke="var(--ink)" strokeWidth={Math.max(w, h) / 160}>
        {face.outline === "round" ? (
          <circle r={Math.max(face.width_mm, face.height_mm) / 2} />
        ) : (
          <rect x={-face.width_mm / 2} y={-face.height_mm / 2} width={face.width_mm} height={face.height_mm} rx={1} />
        )}
        {marks.map((m, n) => (
          <rect
            key={n}
            x={m.x_mm - m.width_mm / 2}
            y={-m.y_mm - m.height_mm / 2}
            width={m.width_mm}
            height={m.height_mm}
          />
        ))}
        {Object.entries(view.cavities).map(([way, [x = 0, y = 0]]) => (
          <circle
            key={way}
            cx={x}
            cy={-y}
            r={face.cavity_diameter_mm / 2}
            fill={way === question.cavity ? "var(--ink)" : "none"}
          />
        ))}
      </g>
    </svg>
  );
}

function Trainer({ seed, onAgain }: { seed: number; onAgain: () => void }) {
  const { id } = useDesign();
  const [a, setA] = useState("");
  const [b, setB] = useState("");
  const [probed, setProbed] = useState<Probed[]>([]);
  const [suspect, setSuspect] = useState(-1);
  const path = { design_id: id };
  const { data, error } = useQuery({
    queryKey: ["hidden-fault", id, seed],
    staleTime: Infinity,
    retry: false,
    queryFn: () =>
      answered(client.GET("/api/designs/{design_id}/practice/fault", { params: { path, query: { seed } } })),
  });
  const measure = useMutation({
    mutationFn: () =>
      answered(client.GET("/api/designs/{design_id}/practice/probe", { params: { path, query: { seed, a, b } } })),
    onSuccess: ({ shows }) => setProbed([{ a, b, shows }, ...probed]),
  });
  const answer = useMutation({
    mutationFn: () =>
      answered(
        client.GET("/api/designs/{design_id}/practice/answer", {
          params: { path, query: { seed, suspect, probes: probed.length } },
        }),
      ),
  });
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Hiding one ...</p>;
  const said = answer.data;
  return (
    <>
      <p>
        Something is wrong about <strong className="font-figures">{data.circuits}</strong>.
      </p>
      <form
        className="mt-2 flex flex-wrap items-baseline gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (a && b && a !== b) measure.mutate();
        }}
      >
        <Place label="Red probe" value={a} places={data.places} onChange={setA} />
        <Place label="Black probe" value={b} places={data.places} onChange={setB} />
        <button className="press" disabled={!a || !b || a === b || said !== undefined}>
          Measure
        </button>
      </form>
      {probed.length > 0 && (
        <ul className="mt-2" aria-label="Measured">
          {probed.map((p, n) => (
            <li key={probed.length - n} className="flex gap-4 border-b border-faint py-0.5 font-figures">
              <span className="text-second">{probed.length - n}</span>
              <span>
                {p.a} – {p.b}
              </span>
              <strong>{p.shows}</strong>
            </li>
          ))}
        </ul>
      )}
      <label className="mt-3 block">
        It is{" "}
        <select className="inkbox max-w-full" value={suspect} onChange={(e) => setSuspect(Number(e.target.value))}>
          <option value={-1}>...</option>
          {data.suspects.map((words, n) => (
            <option key={words} value={n}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {said ? (
        <p role="status" className="mt-2">
          {said.right ? "Right. " : "No. "}
          {!said.right && `${said.words} `}
          {said.probes} {said.probes === 1 ? "probe" : "probes"}; {said.least} would have shown it.{" "}
          <button className="press ml-2" onClick={onAgain}>
            Another
          </button>
        </p>
      ) : (
        <button className="press mt-2" disabled={suspect < 0} onClick={() => answer.mutate()}>
          That is it
        </button>
      )}
    </>
  );
}

interface PlaceProps {
  label: string;
  value: string;
  places: readonly string[];
  onChange: (place: string) => void;
}

function Place({ label, value, places, onChange }: PlaceProps) {
  return (
    <label>
      {label}{" "}
      <select className="inkbox font-figures" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">...</option>
        {places.map((place) => (
          <option key={place}>{place}</option>
        ))}
      </select>
    </label>
  );
}
