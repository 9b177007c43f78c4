import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { answered, client, refusal, type Schemas } from "../../api/client";
import { useActs } from "../../api/design";
import { useSay } from "../../components/Notice";
import { spent } from "../../components/spent";

type Item = Schemas["PatternItem"];

/** Circuits to begin from: a few typed lines each, put in with their devices numbered on; one's own are kept. */
export function PatternsLeaf() {
  const say = useSay();
  const cache = useQueryClient();
  const { data } = useQuery({ queryKey: ["patterns"], queryFn: () => answered(client.GET("/api/shop/patterns")) });
  const keep = (reply: Schemas["PatternsReply"]) => cache.setQueryData(["patterns"], reply);
  const takeOut = useMutation({
    mutationFn: (id: string) =>
      answered(client.DELETE("/api/shop/patterns/{pattern_id}", { params: { path: { pattern_id: id } } })),
    onSuccess: keep,
  });
  const putBack = useMutation({
    mutationFn: (id: string) =>
      answered(client.POST("/api/shop/patterns/{pattern_id}/restore", { params: { path: { pattern_id: id } } })),
    onSuccess: keep,
  });
  return (
    <>
      <p className="mb-3 max-w-[86ch] text-second">
        Circuits to begin from. Their devices are numbered on from yours; a battery and a ground that are there are
        used. The figures are to be changed.
      </p>
      <ul aria-label="Patterns">
        {(data?.patterns ?? []).map((item) => (
          <Entry key={item.id} item={item}>
            {item.own && (
              <button
                className="quiet mt-2 block"
                onClick={() =>
                  takeOut.mutate(item.id, {
                    onSuccess: () =>
                      say(`${item.label} is out.`, { label: "Put it back", run: () => putBack.mutate(item.id) }),
                  })
                }
              >
                take it out
              </button>
            )}
          </Entry>
        ))}
      </ul>
      <Own onKept={keep} />
    </>
  );
}

/** One pattern: put in as it is, or with its lines changed; they open by themselves where they are refused. */
function Entry({ item, children }: { item: Item; children: ReactNode }) {
  const { act } = useActs();
  const say = useSay();
  const as = item.lines.join("\n");
  const [changed, setChanged] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const put = async () => {
    const refused = await act("pattern", changed ?? as);
    setProblem(refused && refused.detail);
    if (refused) return setChanged(changed ?? as);
    setChanged(null);
    say(`${item.label}: put in. Change its figures under Devices.`);
  };
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-5 border-t border-rule py-3">
      <div>
        <strong>{item.label}</strong>
        {item.own && <span className="ml-2 text-fine font-semibold text-blue">yours</span>}
        <p className="max-w-[80ch] text-plain text-second">{item.why}</p>
        {changed === null ? (
          <pre className="mt-1.5 whitespace-pre-wrap font-figures text-plain">{as}</pre>
        ) : (
          <textarea
            className="inkbox mt-1.5 block w-full font-figures text-plain"
            aria-label={`Lines of: ${item.label}`}
            aria-invalid={problem ? true : undefined}
            rows={item.lines.length + 1}
            spellCheck={false}
            value={changed}
            onChange={(e) => setChanged(e.target.value)}
          />
        )}
        {problem && (
          <p role="alert" className="mt-1 text-plain text-madder">
            {problem}
          </p>
        )}
      </div>
      <div className="text-right">
        <button className="press" aria-label={`Put it in: ${item.label}`} onClick={() => void put()}>
          Put it in
        </button>
        {changed === null ? (
          <button
            className="quiet mt-2 block"
            aria-label={`change it first: ${item.label}`}
            onClick={() => setChanged(as)}
          >
            change it first
          </button>
        ) : (
          <button
            className="quiet mt-2 block"
            onClick={() => {
              setChanged(null);
              setProblem(null);
            }}
          >
            leave it
          </button>
        )}
        {children}
      </div>
    </li>
  );
}

/** A pattern of the shop's own: its lines as they are typed. */
function Own({ onKept }: { onKept: (reply: Schemas["PatternsReply"]) => void }) {
  const [label, setLabel] = useState("");
  const [why, setWhy] = useState("");
  const [lines, setLines] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const keep = async () => {
    try {
      onKept(await answered(client.POST("/api/shop/patterns", { body: { label, why, lines: lines.split("\n") } })));
      setProblem(null);
      setLabel(spent(label));
      setWhy(spent(why));
      setLines(spent(lines));
    } catch (error) {
      setProblem(refusal(error).problem.detail);
    }
  };
  return (
    <form
      className="mt-4 max-w-[760px] border-t border-ink pt-3"
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <h2 className="text-head">One of your own</h2>
      <label className="mt-2 block">
        <span className="text-plain text-second">What it is</span>
        <input
          className="inkbox block w-full"
          value={label}
          placeholder="winch on a contactor"
          onChange={(e) => setLabel(e.target.value)}
        />
      </label>
      <label className="mt-2 block">
        <span className="text-plain text-second">Why it is so</span>
        <input className="inkbox block w-full" value={why} onChange={(e) => setWhy(e.target.value)} />
      </label>
      <label className="mt-2 block">
        <span className="text-plain text-second">Its lines</span>
        <textarea
          className="inkbox block h-[110px] w-full font-figures text-plain"
          spellCheck={false}
          value={lines}
          placeholder={
            "battery > F1 fuse > K1 contactor coil 1 A > M1 winch 40 A > ground\nF1 > S1 switch > K1 coil > ground"
          }
          onChange={(e) => setLines(e.target.value)}
        />
      </label>
      {problem && (
        <p role="alert" className="mt-1 text-plain text-madder">
          {problem}
        </p>
      )}
      <button className="press mt-2" type="submit">
        Keep it
      </button>
    </form>
  );
}
