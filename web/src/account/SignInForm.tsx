import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";

import { api, ask, problemOf, wordsOf } from "../api/client";
import { signedIn } from "./account";
import { entered, EntryField } from "./EntryField";

/** Name and password; what is wrong is said above the button. */
export function SignInForm() {
  const send = useMutation({
    mutationFn: (body: { name: string; password: string }) => ask(api.POST("/api/account/sign-in", { body })),
    onSuccess: (who) => signedIn(who),
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const form = event.currentTarget;
        send.mutate({ name: entered(form, "username"), password: entered(form, "password") });
      }}
    >
      <Flex direction="column" gap="4">
        <EntryField label="Name" name="username" complete="username" focus />
        <EntryField label="Password" name="password" type="password" complete="current-password" />
        {send.isError ? (
          <Box role="alert" color="rust">
            {wordsOf(problemOf(send.error))}
          </Box>
        ) : null}
        <Button type="submit" loading={send.isPending} h="42px">
          Sign in
        </Button>
      </Flex>
    </form>
  );
}
