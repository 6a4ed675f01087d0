/** Blends: several kept runs on one account, with sizes. */
import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { currencyWord } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useDelete } from "../../data/use-delete.ts";
import { HERE, number, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { num, Page, td, th } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { useNewBlend } from "../run-view/new-blend.ts";
import { WEIGHTING_WORDS } from "./blend-words.ts";
import { MOST_BLENDS } from "./blends-compared.tsx";

export function BlendsPage() {
  const { data, error } = useQuery(queries.blends());
  const remove = useDelete();
  const begin = useNewBlend();
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  return (
    <Page
      title="Blends"
      aside={
        <>
          <Button
            disabled={chosen.length < 2 || chosen.length > MOST_BLENDS}
            title="Choose two to four blends"
            onClick={() => void navigate(`/blends/compare?blends=${chosen.join(",")}`)}
          >
            Compare {chosen.length > 0 ? chosen.length : ""}
          </Button>
          <Button variant="primary" onClick={() => void begin([])}>
            New blend
          </Button>
        </>
      }
    >
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="blends" /> : null}
      {data?.length === 0 ? (
        <Empty title="No blend yet">
          A blend sets several kept runs on one account and says how they fall together. Choose runs in Runs and press Blend, or begin one
          here.
        </Empty>
      ) : null}
      {data && data.length > 0 ? (
        <table className="w-full">
          <thead>
            <tr>
              <th className={th}>
                <span className="sr-only">Choose</span>
              </th>
              <th className={th}>Blend</th>
              <th className={`${th} ${num}`}>Members</th>
              <th className={`${th} ${num}`}>Account</th>
              <th className={th}>Sized</th>
              <th className={`${th} ${num}`}>Tolerated fall</th>
              <th className={th}>Note</th>
              <th className={th}>Changed</th>
              <th className={th}>
                <span className="sr-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.map(({ id, name, note, setup, updatedMs }) => (
              <tr key={id} className="hover:bg-sunk">
                <td className={td}>
                  <input
                    type="checkbox"
                    aria-label={`Choose ${name}`}
                    checked={chosen.includes(id)}
                    onChange={(event) => setChosen(event.target.checked ? [...chosen, id] : chosen.filter((other) => other !== id))}
                  />
                </td>
                <td className={td}>
                  <Link to={`/blends/${id}`} className="font-semibold hover:underline">
                    {name}
                  </Link>
                </td>
                <td className={`${td} ${num}`}>{setup.members.length}</td>
                <td className={`${td} ${num}`}>
                  {number(setup.cash)} {currencyWord(setup.currency)}
                </td>
                <td className={td}>{WEIGHTING_WORDS[setup.weighting]}</td>
                <td className={`${td} ${num}`}>{number(setup.tolerated)} %</td>
                <td className={`${td} max-w-80 truncate text-soft`} title={note}>
                  {note}
                </td>
                <td className={`${td} text-soft`}>{timeAt(updatedMs, HERE)}</td>
                <td className={td}>
                  <Button variant="quiet" aria-label={`Delete ${name}`} onClick={() => void remove("blend", id, name)}>
                    <Trash2 size={14} aria-hidden />
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </Page>
  );
}
