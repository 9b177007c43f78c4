import { Link } from "react-router";
import { useDesign } from "../../api/design";

/** The tools that the ends ask for: owned, or to buy or borrow. */
export function ToolsLeaf() {
  const { tools, tooling_total } = useDesign().design.evaluation.parts;
  if (tools.length === 0) return <p className="text-second">No end asks for a tool yet.</p>;
  return (
    <section>
      <h2 className="text-head">Tools for it</h2>
      <p className="mb-1 text-plain text-second">
        {tooling_total > 0 ? (
          <>
            What is not owned comes to <strong className="font-figures">{tooling_total.toFixed(0)}</strong>, beside the
            parts.
          </>
        ) : (
          "All of them are owned."
        )}{" "}
        <Link className="quiet" to="/drawers/tools">
          say which tools are yours
        </Link>
      </p>
      <table className="w-full max-w-[980px] text-plain" aria-label="Tools">
        <thead className="text-left text-fine text-second">
          <tr className="border-b border-ink">
            <th className="w-[90px] py-1">Tool</th>
            <th>In words</th>
            <th className="w-[26%]">Set to</th>
            <th className="w-[20%]">For</th>
            <th className="w-[70px] text-right">Price</th>
            <th className="w-[130px] pl-4">Owned</th>
          </tr>
        </thead>
        <tbody>
          {tools.map((t) => (
            <tr key={t.code} className="border-b border-faint align-top">
              <td className="py-1.5 font-figures font-bold">{t.code}</td>
              <td className="py-1.5">{t.description}</td>
              <td className="py-1.5 font-figures text-fine">{t.settings.join("; ")}</td>
              <td className="py-1.5 font-figures text-fine">{t.used_for}</td>
              <td className="py-1.5 text-right font-figures">{t.price.toFixed(0)}</td>
              <td className={`py-1.5 pl-4 ${t.status === "worn" ? "text-madder" : ""}`}>
                {t.owned ? t.status : <span className="text-second">{t.status}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
