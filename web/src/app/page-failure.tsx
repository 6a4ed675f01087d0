/** A page that could not be loaded: the server is away, or the app was built anew since this tab was opened. */
import { useRouteError } from "react-router";
import { Failure } from "../ui/states.tsx";

export function PageFailure() {
  const error = useRouteError();
  return (
    <div className="p-6">
      <Failure error={error}>
        <button type="button" className="underline" onClick={() => window.location.reload()}>
          Load the app again
        </button>
      </Failure>
    </div>
  );
}
