import { Box, Button } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, ask, problemOf, wordsOf } from "../api/client";
import { signedIn } from "./account";
import { DoorPage } from "./DoorPage";

/** Where the link for another device of one's own leads. Its secret stands behind the #, and no server's log ever sees it. */
export default function PairPage() {
  const [token] = useState(() => window.location.hash.slice(1));
  const send = useMutation({
    mutationFn: () => ask(api.POST("/api/account/pair", { body: { token } })),
    onSuccess: (who) => signedIn(who, "/board"),
  });
  return (
    <DoorPage
      title="Sign this device in"
      intro="The link was made on another device of yours. It is good once, for ten minutes, and signs this one in without a password."
    >
      {token === "" ? <Box role="alert">The link is not whole. Make a new one on the other device.</Box> : null}
      {send.isError ? (
        <Box role="alert" color="rust" mb="3">
          {wordsOf(problemOf(send.error))}
        </Box>
      ) : null}
      <Button variant="solid" size="xl" w="100%" disabled={token === ""} loading={send.isPending} onClick={() => send.mutate()}>
        Sign this device in
      </Button>
      <Box mt="5">
        <Link to="/trust" style={{ textDecoration: "underline", display: "inline-flex", minHeight: 48, alignItems: "center" }}>
          The browser warned me: have it trust Lucid Ridge
        </Link>
      </Box>
    </DoorPage>
  );
}
