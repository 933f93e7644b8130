import { SavedStatus } from "../shell/SavedStatus";
import { useBench } from "./context";

/** Whether the composition on screen is safe. */
export function SaveStatus() {
  const { state } = useBench();
  return <SavedStatus save={state.save} problem={state.saveProblem} at={state.savedAt} />;
}
