import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, ApiError, ask, problemOf, wordsOf } from "../api/client";
import { signedIn } from "./account";
import { DoorPage } from "./DoorPage";
import { entered, EntryField } from "./EntryField";

const WELCOME = {
  owner: "You will run this installation: what is kept here is yours, and you invite the others.",
  photographer:
    "You get a place of your own here for places, compositions and a logbook. Nobody else sees them unless you share them.",
  viewer: "You will see what others share with you.",
} as const;

/** Where the link of an invitation leads. Its secret stands behind the #, and no server's log ever sees it. */
export default function JoinPage() {
  const [token] = useState(() => window.location.hash.slice(1));
  const asked = useQuery({
    queryKey: ["invited", token],
    queryFn: () => ask(api.POST("/api/account/invited", { body: { token } })),
    retry: false,
    enabled: token !== "",
  });
  const send = useMutation({
    mutationFn: (body: { token: string; name: string; password: string }) => ask(api.POST("/api/account/join", { body })),
    onSuccess: (who) => signedIn(who, "/"),
  });
  const problem = send.error instanceof ApiError ? send.error : null;
  if (token === "" || asked.isError)
    return (
      <DoorPage
        title="This link does not open anything"
        intro={token === "" ? "It is not whole. Copy it again, to its end." : wordsOf(problemOf(asked.error))}
      >
        <Link to="/" style={{ textDecoration: "underline" }}>
          I have an account: sign in
        </Link>
      </DoorPage>
    );
  if (!asked.data) return <DoorPage title="One moment" intro="The link is looked at." />;
  const { name, role } = asked.data;
  return (
    <DoorPage
      title={name === null ? "Welcome" : `Welcome back, ${name}`}
      intro={name === null ? WELCOME[role] : "Choose a new password. Every device signs in anew with it."}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          const form = event.currentTarget;
          send.mutate({ token, name: name ?? entered(form, "username"), password: entered(form, "password") });
        }}
      >
        <Flex direction="column" gap="4">
          {name === null ? (
            <EntryField
              label="What you want to be called"
              name="username"
              complete="username"
              error={problem?.field("/name")}
              focus
            />
          ) : null}
          <EntryField
            label="Password"
            name="password"
            type="password"
            complete="new-password"
            error={problem?.field("/password")}
            hint="At least 10 characters. A few words that nobody else would put together do well."
          />
          {problem && problem.field("/name") === undefined && problem.field("/password") === undefined ? (
            <Box role="alert" color="rust">
              {wordsOf(problem.problem)}
            </Box>
          ) : null}
          <Button type="submit" loading={send.isPending} h="42px">
            {name === null ? "Come in" : "Keep this password"}
          </Button>
        </Flex>
      </form>
    </DoorPage>
  );
}
