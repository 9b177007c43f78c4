import { useState } from "react";
import { useConventions, useShop } from "../api/ends";
import { useSay } from "../components/Notice";

const EXAMPLES = [
  ["colours supply: RD OG", "feeds are red, then orange, in every new harness"],
  [
    'colours "fuel pump": OG/BK',
    "circuits with these words in their name; returns and shields only where the words say so",
  ],
  [
    "ends three-wire sensor: SS15 1=1 2=3 3=2",
    "what such a device begins with, and which of its pins goes to which way",
  ],
];

/** What the shop always does: its colours by role and by circuit, the ends its devices begin with. */
export function ConventionsLeaf() {
  const { data, error } = useConventions();
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Looking ...</p>;
  return <Lines text={data.text} />;
}

function Lines({ text: kept }: { text: string }) {
  const { agree } = useShop();
  const say = useSay();
  const [text, setText] = useState(kept);
  const [problem, setProblem] = useState("");
  return (
    <form
      className="max-w-[860px]"
      onSubmit={(e) => {
        e.preventDefault();
        void agree(text).then((p) => {
          setProblem(p ? p.detail : "");
          if (!p) say("Kept. New harnesses and new devices begin so.");
        });
      }}
    >
      <p className="mb-2 text-second">
        Kept across harnesses. A new harness takes the colours; one that stands takes them in Wire, under Families and
        colours. The ends are those of devices typed from now on.
      </p>
      <label className="block">
        <span className="sr-only">Conventions of the shop, a line each</span>
        <textarea
          className="inkbox h-[220px] w-full font-figures text-plain"
          value={text}
          aria-invalid={problem !== ""}
          placeholder={EXAMPLES.map(([line]) => line).join("\n")}
          onChange={(e) => {
            setText(e.target.value);
            setProblem("");
          }}
        />
      </label>
      {problem && (
        <p role="alert" className="text-madder">
          {problem}
        </p>
      )}
      <button className="press mt-1" disabled={text === kept}>
        Keep them
      </button>
      <dl className="mt-5 text-plain">
        {EXAMPLES.map(([line, what]) => (
          <div key={line} className="border-b border-faint py-1.5">
            <dt className="font-figures">{line}</dt>
            <dd className="text-second">{what}</dd>
          </div>
        ))}
      </dl>
    </form>
  );
}
