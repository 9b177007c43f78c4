import { useQueryClient } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { refusal, type ShelfItem } from "../api/client";
import { createDesign, openFile, pending, shelfAct, useCatalogue, useShelf } from "../api/design";
import { useGlossary } from "../api/words";
import { beginFirst, leaveFirst, mayBeOffered } from "../components/FirstHarness";
import { useSay } from "../components/Notice";
import { switchTheme } from "../theme";
import { EarlierPlace, Keeping } from "./Keeping";

type PracticeName = "motorsport" | "aviation" | "marine" | "model" | "vehicle" | "equipment";

/** All harnesses, each a tag on the shelf. */
export function Shelf() {
  const { data, error } = useShelf();
  return (
    <main className="mx-auto min-h-screen max-w-[1080px] px-8 pb-16 pt-8">
      <header className="flex items-baseline justify-between">
        <h1 className="text-title italic">Ink Thread</h1>
        <span className="flex gap-5">
          <Link className="quiet" to="/bench/wire">
            the bench: quick calculators
          </Link>
          <Link className="quiet" to="/drawers">
            the drawers: parts and tools
          </Link>
          <button className="quiet" onClick={switchTheme}>
            theme: light or dark
          </button>
        </span>
      </header>
      <p className="mt-1 max-w-[70ch] text-lead text-second">
        {data === undefined
          ? (error?.message ?? "Looking along the shelf ...")
          : data.length === 0
            ? "The shelf is empty. Name a harness below and begin."
            : `${data.length === 1 ? "One harness" : `${data.length} harnesses`} on the shelf. Nothing leaves this machine.`}
      </p>
      <EarlierPlace />
      {data?.length === 0 && <OfferFirst />}
      <NewHarness />
      <ul className="mt-7">
        {data?.map((item) => (
          <Tag key={item.id} item={item} />
        ))}
      </ul>
      <Keeping />
      <p className="mt-10 text-plain text-second">
        Set in type under the{" "}
        <a className="quiet" href="/licences/fonts.txt">
          open font licence
        </a>
        , made with{" "}
        <a className="quiet" href="/licences/third-party.txt">
          the work of others
        </a>
        .
      </p>
    </main>
  );
}

/** A guided first harness, offered where the shelf is empty; once declined it is only a link below. */
function OfferFirst() {
  const navigate = useNavigate();
  const say = useSay();
  const [offered, setOffered] = useState(mayBeOffered);
  const begin = async () => {
    try {
      const made = await createDesign({ name: "first lamp", practice: "vehicle", supply: "12 V" });
      beginFirst(made.id);
      await navigate(`/d/${made.id}/circuits`);
    } catch (error) {
      say(refusal(error).message);
    }
  };
  if (!offered)
    return (
      <button className="quiet mt-3" onClick={() => void begin()}>
        a first harness, step by step
      </button>
    );
  return (
    <section aria-label="First harness" className="mt-5 border border-ink bg-linen px-5 py-4">
      <h2 className="text-head">New here? A first harness in three minutes</h2>
      <p className="mt-1 max-w-[80ch]">
        A lamp on a battery behind a fuse, built on the same screens as any other. The guide stands above the room and
        can be left at any time.
      </p>
      <p className="mt-2 flex gap-4">
        <button className="press" onClick={() => void begin()}>
          Show me
        </button>
        <button
          className="quiet"
          onClick={() => {
            leaveFirst();
            setOffered(false);
          }}
        >
          not now
        </button>
      </p>
    </section>
  );
}

function NewHarness() {
  const catalogue = useCatalogue();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [practice, setPractice] = useState<PracticeName>("motorsport");
  const [supply, setSupply] = useState("");
  const says = useGlossary()?.practices[practice];
  const usual = catalogue?.usual_supplies_v[practice];
  const [problem, setProblem] = useState<{ detail: string; lines: string[] } | null>(null);
  const file = useRef<HTMLInputElement>(null);

  const refuse = (error: unknown) => {
    const found = refusal(error).problem;
    setProblem({
      detail: found.detail,
      lines: found.errors.slice(0, 6).map((e) => `${e.path || "file"}: ${e.message} ${e.remedy}`),
    });
  };
  const make = async (body: Parameters<typeof createDesign>[0]) => {
    try {
      const made = await createDesign(body);
      await navigate(`/d/${made.id}/${body.document ? "brief" : "circuits"}`);
    } catch (error) {
      refuse(error);
    }
  };
  const take = async (chosen: File) => {
    try {
      const made = await openFile(chosen);
      await navigate(`/d/${made.id}/brief`);
    } catch (error) {
      refuse(error);
    }
  };
  return (
    <form
      className="mt-5 border-y border-rule py-4"
      onSubmit={(e) => {
        e.preventDefault();
        void make({ name, practice, supply });
      }}
    >
      <div className="flex flex-wrap items-end gap-3">
        <label className="min-w-[260px] flex-1">
          <span className="block text-plain text-second">New harness</span>
          <input
            autoFocus
            value={name}
            onChange={(e) => setName(e.target.value)}
            placeholder="what it is for"
            className="inkbox h-10 w-full text-lead"
          />
        </label>
        <label>
          <span className="block text-plain text-second">built to</span>
          <select
            value={practice}
            onChange={(e) => setPractice(e.target.value as PracticeName)}
            className="inkbox h-10 text-lead"
          >
            {(catalogue?.practices ?? ["motorsport"]).map((p) => (
              <option key={p} value={p}>
                {p} practice
              </option>
            ))}
          </select>
        </label>
        <label className="w-[120px]">
          <span className="block text-plain text-second">on a supply of</span>
          <input
            value={supply}
            list="supplies"
            onChange={(e) => setSupply(e.target.value)}
            placeholder={usual === undefined ? "12 V" : `${usual} V`}
            className="inkbox h-10 w-full font-figures"
          />
          <datalist id="supplies">
            {["12 V", "14 V", "24 V", "28 V"].map((volts) => (
              <option key={volts} value={volts} />
            ))}
          </datalist>
        </label>
        <button className="press py-1.5" type="submit">
          Begin
        </button>
        <button className="quiet py-1.5" type="button" onClick={() => file.current?.click()}>
          open a design file
        </button>
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          aria-label="Design file"
          className="sr-only"
          tabIndex={-1}
          onChange={(e) => {
            const chosen = e.target.files?.[0];
            e.target.value = "";
            if (chosen) void take(chosen);
          }}
        />
      </div>
      {says && <p className="mt-2 max-w-[92ch] text-plain text-second">{says}</p>}
      {problem && (
        <div role="alert" className="mt-3 text-madder">
          <p>{problem.detail}</p>
          {problem.lines.length > 1 && (
            <ul className="mt-1 list-disc pl-5 text-plain">
              {problem.lines.map((l) => (
                <li key={l}>{l}</li>
              ))}
            </ul>
          )}
        </div>
      )}
    </form>
  );
}

function Tag({ item }: { item: ShelfItem }) {
  const cache = useQueryClient();
  const say = useSay();
  const t = item.tally;
  const again = () =>
    Promise.all([cache.invalidateQueries({ queryKey: ["shelf"] }), cache.invalidateQueries({ queryKey: ["kept"] })]);
  const act = async (what: "duplicate" | "restore" | "remove" | "mend") => {
    try {
      await shelfAct(item.id, what);
      await again();
    } catch (error) {
      say(refusal(error).message);
    }
  };
  const remove = async () => {
    await act("remove");
    say(`${item.name} is off the shelf.`, { label: "Put it back", run: () => void act("restore") });
  };
  return (
    <li className="grid grid-cols-[1fr_auto_auto] items-center gap-6 border-b border-faint py-3">
      <Link to={`/d/${item.id}/brief`} className="group min-w-0">
        <span className="block truncate font-heading text-head font-semibold group-hover:underline group-hover:decoration-madder group-hover:underline-offset-4">
          {item.name || "unnamed"}
        </span>
        <span className="block truncate text-second">
          {[item.machine, item.practice && `${item.practice} practice`].filter(Boolean).join(", ")}
        </span>
      </Link>
      {pending(item) ? (
        <span className="text-base text-second">being worked out ...</span>
      ) : t === null ? (
        <span className="max-w-[44ch] text-right text-base text-madder">{item.trouble}</span>
      ) : (
        <span className="font-figures text-plain text-second">
          {t.wires} wires · {t.metres.toFixed(1)} m · {t.grams.toFixed(0)} g
          <span className="block text-right font-text">
            {t.stops > 0 && <strong className="text-madder">{t.stops} stop </strong>}
            {t.fixes > 0 && <strong className="text-ochre">{t.fixes} fix </strong>}
            {t.considers > 0 && <span>{t.considers} to consider</span>}
            {t.stops + t.fixes + t.considers === 0 && t.wires > 0 && (
              <span className="text-verdigris">nothing found</span>
            )}
          </span>
        </span>
      )}
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger className="press font-normal" aria-label={`More for ${item.name}`}>
          more
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className="z-40 min-w-[170px] border border-ink bg-sheet py-1">
            {t === null && !pending(item) && <Item onSelect={() => void act("mend")}>Go back to what can be read</Item>}
            {t !== null && <Item onSelect={() => void act("duplicate")}>Duplicate</Item>}
            <Item
              onSelect={() => {
                window.location.href = `/api/designs/${item.id}/file`;
              }}
            >
              Export design file
            </Item>
            <Item onSelect={() => void remove()}>Take off the shelf</Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </li>
  );
}

function Item({ children, onSelect }: { children: string; onSelect: () => void }) {
  return (
    <DropdownMenu.Item onSelect={onSelect} className="cursor-pointer px-3 py-1 outline-none data-[highlighted]:bg-wash">
      {children}
    </DropdownMenu.Item>
  );
}
