import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { useDesign } from "../../api/design";
import { nowWorks, whoWorks } from "../../api/who";
import { bench, useWork, useWorkActs, useWorkState, wentWell, type Step } from "../../api/work";
import { BenchCard } from "./BenchCard";
import { hours } from "./hours";
import { HelpSheet } from "./HelpSheet";
import { NoteSheet } from "./NoteSheet";

const KEYS = [
  ["space", "done, next"],
  ["u", "take back"],
  ["←", "card before"],
  ["→", "card after"],
  ["n", "what happened"],
] as const;
type Key = (typeof KEYS)[number][0];

/** The bench: one card at a time, for gloves and two metres. */
export function CardsPage() {
  const { id, design } = useDesign();
  const { data: work } = useWork();
  const [number, setNumber] = useState(1);
  const [who, setWho] = useState(whoWorks);
  const { data: state } = useWorkState(number, "bench");
  const acts = useWorkActs(number, who);
  const [at, setAt] = useState<string | null>(null);
  const [says, setSays] = useState("");
  const [noting, setNoting] = useState<Step | null>(null);
  const [helping, setHelping] = useState("");
  const ticked = useRef<[string, string][]>([]);

  const steps = useMemo(() => new Map(work?.steps.map((s) => [s.id, s])), [work]);
  const done = useMemo(() => new Set(state?.done.map((d) => d.step)), [state]);
  const elsewhere = useMemo(
    () => new Map(state?.taken.filter((t) => t.bench !== bench()).map((t) => [t.card, t.who])),
    [state],
  );
  const cards = useMemo(() => work?.cards ?? [], [work]);
  const open = useCallback(
    (card: string, steps: string[]) => !elsewhere.has(card) && steps.some((s) => !done.has(s)),
    [done, elsewhere],
  );
  const known = cards.findIndex((c) => c.id === at);
  const begun = known >= 0 ? known : cards.findIndex((c) => open(c.id, c.steps));
  const index = begun >= 0 ? begun : Math.max(cards.length - 1, 0);
  const card = cards[index];
  const lit = card?.steps.find((s) => !done.has(s));
  const ready = work !== undefined && state !== undefined;

  // A card that is looked at lies on this bench, so that no other bench begins it.
  const { take } = acts;
  const cardId = card?.id;
  const untouched = card !== undefined && open(card.id, card.steps);
  useEffect(() => {
    if (!ready || cardId === undefined || !untouched) return;
    void take(cardId).then((reply) => {
      if (!wentWell(reply)) setSays(reply.detail);
    });
    // What is on the card may change while it lies here; it is laid down once.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [cardId, ready, take]);

  // Who leaves lays the card back: another bench need not wait for it.
  const layBack = useRef(acts.layBack);
  useEffect(() => {
    layBack.current = acts.layBack;
  }, [acts]);
  useEffect(() => {
    const leave = () => layBack.current();
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, []);

  const go = useCallback(
    (by: 1 | -1) => {
      const next = cards[index + by];
      if (next) setAt(next.id);
      setSays("");
    },
    [cards, index],
  );

  const tick = useCallback(() => {
    if (!card) return;
    if (elsewhere.has(card.id)) {
      setSays(`This card lies on ${elsewhere.get(card.id) || "another"}'s bench.`);
      return;
    }
    if (lit === undefined) {
      const next = cards.slice(index + 1).find((c) => open(c.id, c.steps));
      setAt(next?.id ?? cards[index + 1]?.id ?? card.id);
      return;
    }
    setSays("");
    ticked.current.push([card.id, lit]);
    if (card.steps.filter((s) => !done.has(s)).length === 1) {
      const next = cards.slice(index + 1).find((c) => open(c.id, c.steps));
      if (next) setAt(next.id);
      else setAt(card.id);
    } else setAt(card.id);
    void acts.tick([lit], true).then((reply) => {
      if (wentWell(reply)) {
        if (reply.says) setSays(reply.says);
        return;
      }
      ticked.current = ticked.current.filter(([, s]) => s !== lit);
      setSays(reply.detail);
      setAt(card.id);
    });
  }, [acts, card, cards, done, elsewhere, index, lit, open]);

  const takeBack = useCallback(() => {
    const last = ticked.current.pop();
    const own = state?.done.filter((d) => d.bench === bench()).at(-1);
    const step = last?.[1] ?? card?.steps.filter((s) => done.has(s)).at(-1) ?? own?.step;
    const on = last?.[0] ?? cards.find((c) => step !== undefined && c.steps.includes(step))?.id;
    if (step === undefined || on === undefined) {
      setSays("Nothing to take back.");
      return;
    }
    setAt(on);
    void acts.tick([step], false).then((reply) => setSays(wentWell(reply) ? "Taken back." : reply.detail));
  }, [acts, card, cards, done, state]);

  const press = useCallback(
    (key: Key) => {
      if (key === "space") tick();
      else if (key === "u") takeBack();
      else if (key === "←") go(-1);
      else if (key === "→") go(1);
      else {
        const step = lit ?? card?.steps.at(-1);
        setNoting((step !== undefined && steps.get(step)) || null);
      }
    },
    [card, go, lit, steps, takeBack, tick],
  );

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (noting || helping || event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
      if (["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName)) return;
      const key = (
        { " ": "space", u: "u", U: "u", ArrowLeft: "←", ArrowRight: "→", n: "n", N: "n" } as Record<string, Key>
      )[event.key];
      // A button that has the focus is pressed by space itself.
      if (!key || (key === "space" && target.tagName === "BUTTON")) return;
      event.preventDefault();
      press(key);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [noting, helping, press]);

  const cardsDone = useMemo(() => cards.filter((c) => c.steps.every((s) => done.has(s))).length, [cards, done]);
  if (!work || !state) return <p className="at-bench min-h-screen p-10">Laying out the cards ...</p>;
  return (
    <main className="at-bench flex min-h-screen flex-col bg-linen px-5 py-4 text-ink min-[900px]:px-11">
      <header className="flex flex-wrap items-center gap-x-5 gap-y-2 text-lead">
        <h1 className="font-text text-lead font-normal">
          <Link to={`/d/${id}/build`} className="underline decoration-rule underline-offset-4">
            {design.document.brief.name}
          </Link>
          , card{" "}
          <strong className="font-figures">
            {index + 1} of {cards.length}
          </strong>
        </h1>
        <progress
          className="bench-progress h-[8px] min-w-[120px] flex-1"
          max={Math.max(cards.length, 1)}
          value={cardsDone}
          aria-label="Cards done"
        />
        <span>
          about <strong className="font-figures">{hours(state.minutes_left)}</strong> left
        </span>
        {state.quantity > 1 && (
          <label>
            harness{" "}
            <input
              className="inkbox w-[64px] font-figures"
              type="number"
              min={1}
              max={state.quantity}
              value={number}
              onChange={(e) => {
                setNumber(Math.min(Math.max(Number(e.target.value) || 1, 1), state.quantity));
                setAt(null);
                ticked.current = [];
              }}
            />
          </label>
        )}
        <label>
          by{" "}
          <input
            className="inkbox w-[110px]"
            value={who}
            maxLength={60}
            placeholder="your name"
            aria-label="Who works here"
            onChange={(e) => {
              setWho(e.target.value);
              nowWorks(e.target.value);
            }}
          />
        </label>
      </header>
      {card ? (
        <BenchCard
          key={card.id}
          card={card}
          steps={card.steps.flatMap((s) => steps.get(s) ?? [])}
          done={done}
          lit={lit}
          elsewhere={elsewhere.has(card.id) ? elsewhere.get(card.id) || "another" : null}
          before={cards[index - 1]}
          after={cards[index + 1]}
        />
      ) : (
        <p className="mt-8 flex-1 text-title">Nothing to make yet.</p>
      )}
      {state.findings
        .filter((f) => f.places.some((p) => card?.steps.includes(p.id)))
        .map((f) => (
          <p key={f.what} role="alert" className="text-head text-madder">
            {f.what} {f.remedies[0]?.text}
          </p>
        ))}
      {lit && (
        <p className="text-lead">
          <button
            className="min-h-[44px] underline decoration-rule underline-offset-4"
            onClick={(e) => {
              e.currentTarget.blur();
              setHelping(lit);
            }}
          >
            Right or wrong?
          </button>
        </p>
      )}
      <p role="status" className="min-h-[32px] text-head text-ochre">
        {says || (card && lit === undefined ? "This card is done. Space goes on." : "")}
      </p>
      <footer className="sticky bottom-0 flex flex-wrap justify-between gap-x-4 gap-y-2 bg-linen py-2">
        {KEYS.map(([key, what]) => (
          <button
            key={key}
            className="flex min-h-[48px] items-center gap-3 px-1 text-lead"
            onClick={(e) => {
              e.currentTarget.blur();
              press(key);
            }}
          >
            <kbd className="border border-rule bg-wash px-3 py-1 font-figures font-bold">{key}</kbd>
            {what}
          </button>
        ))}
      </footer>
      {helping && (
        <HelpSheet
          step={helping}
          onClose={() => setHelping("")}
          onRecord={(kind, note) => {
            void acts.happened(helping, kind, note).then((reply) => {
              setSays(wentWell(reply) ? reply.says || "Noted." : reply.detail);
              if (wentWell(reply) && kind === "spoiled") ticked.current = [];
            });
            setHelping("");
          }}
        />
      )}
      {noting && (
        <NoteSheet
          step={noting}
          onClose={() => setNoting(null)}
          onPhoto={async (note, file) => {
            const reply = await acts.photo(noting.id, note, file);
            setSays(wentWell(reply) ? reply.says : "");
            if (wentWell(reply)) setNoting(null);
            return wentWell(reply) ? null : reply.detail;
          }}
          onNote={async (kind, note, differs, now) => {
            const reply = await acts.happened(noting.id, kind, note, differs, now);
            setSays(wentWell(reply) ? reply.says || "Noted." : reply.detail);
            if (wentWell(reply)) {
              if (kind === "spoiled") ticked.current = [];
              if (card) setAt(card.id);
              setNoting(null);
            }
            return wentWell(reply) ? null : reply.detail;
          }}
        />
      )}
    </main>
  );
}
