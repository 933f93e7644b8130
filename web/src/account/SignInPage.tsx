import { DoorPage } from "./DoorPage";
import { SignInForm } from "./SignInForm";

/** Nobody is signed in on this device. */
export function SignInPage() {
  return (
    <DoorPage title="Sign in" intro="No account, or no password any more? Whoever runs this installation can send you a link.">
      <SignInForm />
    </DoorPage>
  );
}
