import { useState } from "react";
import { byName, sought } from "../api/glossary";
import { useGlossary } from "../api/words";

/** What the words of a room mean, for who is new to them; any other is found by its letters. */
export function Words({ room, head }: { room: string; head: string }) {
  const glossary = useGlossary();
  const [text, setText] = useState("");
  if (!glossary) return null;
  const { words } = glossary;
  const pointed = byName(words).get(head.toLowerCase());
  const own = words.filter((w) => w.room === room);
  const listed = text.trim() ? sought(words, text) : own.length > 0 ? own : words;
  return (
    <section aria-label="Words">
      {pointed && !text && (
        <p className="mt-3 border-l-2 border-madder pl-3">
          <strong>{pointed.word}</strong>: {pointed.means}
        </p>
      )}
      <label className="mt-3 flex items-center gap-3">
        <span className="text-second">what is</span>
        <input
          className="inkbox w-[240px]"
          value={text}
          onChange={(e) => setText(e.target.value)}
          placeholder="a word"
        />
      </label>
      {listed.length === 0 && <p className="mt-2 text-second">Not among the {words.length} words explained here.</p>}
      <dl
        // It scrolls by itself, by the keyboard too.
        tabIndex={0}
        className="mt-2 grid max-h-[34vh] grid-cols-[minmax(110px,auto)_1fr] gap-x-5 gap-y-1.5 overflow-auto text-plain"
      >
        {listed.map((w) => (
          <div key={w.word} className="contents">
            <dt className="font-semibold">{w.word}</dt>
            <dd>{w.means}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
