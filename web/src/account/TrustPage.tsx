import { Box, Button, chakra } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { api, ask } from "../api/client";
import { useInstalled } from "../board/install";
import { DoorPage } from "./DoorPage";

const Steps = chakra("ol", { base: { pl: "5", mb: "4", "& li": { mb: "2", listStyleType: "decimal" } } });
const Kind = chakra("h2", { base: { fontWeight: "700", fontSize: "17px", mt: "5", mb: "2" } });

/** How a phone or a computer comes to trust this installation, so that its pages can be kept without a network. */
export default function TrustPage() {
  const { data } = useQuery({ queryKey: ["trust"], queryFn: () => ask(api.GET("/api/trust")), retry: false });
  const { pages } = useInstalled();
  return (
    <DoorPage
      title="Have this device trust Lucid Ridge"
      intro="A device keeps pages without a network only from an address that it trusts. This is done once on each device."
    >
      {pages === "kept" ? (
        <Box role="status" borderLeftWidth="4px" borderColor="moss" pl="3" mb="4">
          This device trusts it already: the pages are kept. Nothing is left to do.
        </Box>
      ) : null}
      {data?.fingerprint ? (
        <>
          <Box mb="2">
            First get the certificate of this installation. It vouches for this one server; whoever holds its key could pretend to
            be other sites to this device, so trust it only if the server is yours or that of somebody you know.
          </Box>
          <Button asChild variant="solid" size="xl" w="100%">
            <a href="/authority.crt" download>
              Get the certificate
            </a>
          </Button>
          <Box fontSize="14px" my="3">
            The device shows a SHA-256 fingerprint. It has to be the one that the start command printed on the server:
            <chakra.code display="block" mt="1" p="2" bg="panel" wordBreak="break-all" fontSize="13px" data-testid="fingerprint">
              {data.fingerprint}
            </chakra.code>
          </Box>
          <Kind>A phone that says “Profile downloaded”</Kind>
          <Steps>
            <li>
              Open its settings. Near the top stands “Profile downloaded”: open it, press Install, and enter the phone’s code.
            </li>
            <li>In the settings go to General, About, and at the very end to Certificate Trust Settings.</li>
            <li>Turn “{data.name}” on.</li>
            <li>Come back here and load the page anew. Then use Share, Add to Home Screen.</li>
          </Steps>
          <Kind>A phone that says nothing, or asks what the certificate is for</Kind>
          <Steps>
            <li>Open its settings and search them for “certificate”. Choose Install a certificate, then CA certificate.</li>
            <li>It warns that data could be seen: that holds for whoever keeps the key on the server. Choose Install anyway.</li>
            <li>Choose the file authority.crt in Downloads, and enter the phone’s code.</li>
            <li>
              Come back here and load the page anew. Then open the browser’s menu and choose Install app, or Add to home screen.
            </li>
          </Steps>
          <Kind>A computer</Kind>
          <Steps>
            <li>In the browser’s settings search for “certificates”, and open the list of authorities.</li>
            <li>Import authority.crt there, and tick that it may identify websites.</li>
            <li>Load this page anew.</li>
          </Steps>
          <Box fontSize="14px" color="muted">
            To undo it, remove the certificate where you put it in.
          </Box>
        </>
      ) : (
        <Box>
          This installation has no certificate of its own. On this machine none is needed; behind a proxy or with a bought
          certificate, devices trust it by themselves.
        </Box>
      )}
      <Box mt="5">
        <Link to="/" style={{ textDecoration: "underline", display: "inline-flex", minHeight: 48, alignItems: "center" }}>
          To the pages
        </Link>
      </Box>
    </DoorPage>
  );
}
