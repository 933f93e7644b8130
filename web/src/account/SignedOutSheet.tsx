import { Box } from "@chakra-ui/react";

import { Sheet } from "../shell/Sheet";
import { SignInForm } from "./SignInForm";

/** Signed out while at work: the page stays as it is beneath, with what is not saved yet. */
export function SignedOutSheet({ name }: { name: string }) {
  return (
    <Sheet title="Sign in again" open>
      <Box color="muted" mb="4">
        {name ? `${name} is signed out on this device.` : "You are signed out on this device."} The page beneath stays as it is, and
        what is not saved is saved then.
      </Box>
      <SignInForm />
    </Sheet>
  );
}
