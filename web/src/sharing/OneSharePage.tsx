import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";

import { accountQuery } from "../account/account";
import { api, ask } from "../api/client";
import { renew, shareQuery } from "../api/queries";
import { View } from "../instruments/View";
import { notify, notifyTrouble } from "../shell/notices";
import { Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";

/** A place or a composition of somebody else's, as it looks. */
export default function OneSharePage() {
  const { id = "" } = useParams();
  const go = useNavigate();
  const shared = useQuery(shareQuery(id));
  const { data: who } = useQuery(accountQuery);
  const copy = useMutation({
    mutationFn: () => ask(api.POST("/api/shares/{id}/copy", { params: { path: { id } } })),
    onSuccess: async (made) => {
      await renew("places", "kit", "compositions", "terrains", "tracks");
      notify({ title: "It is yours now", detail: "What becomes of the copy is nothing to the other." });
      const [first] = made.composition_ids;
      await go(first ? `/compositions/${first}` : "/places");
    },
    onError: notifyTrouble,
  });
  if (shared.isError) return <Trouble error={shared.error} again={() => void shared.refetch()} />;
  if (!shared.data) return <Loading what="what is shared" />;
  const { share, place, compositions } = shared.data;
  const { latitude_deg, longitude_deg, name } = place.place;
  return (
    <Page
      title={share.name}
      intro={`${share.person}’s. You may look${share.may_copy ? ", and copy it into your own" : ""}.`}
      actions={
        share.may_copy && who?.role !== "viewer" ? (
          <Button loading={copy.isPending} onClick={() => copy.mutate()}>
            Copy into my own
          </Button>
        ) : null
      }
    >
      <Box mb="5" maxW="46rem">
        <Box fontWeight="600">
          {name}, {Math.abs(latitude_deg).toFixed(4)}° {latitude_deg < 0 ? "S" : "N"} {Math.abs(longitude_deg).toFixed(4)}°{" "}
          {longitude_deg < 0 ? "W" : "E"}
        </Box>
        {place.access ? <Box>Access: {place.access}</Box> : null}
        {place.hazards ? <Box color="rust">Hazards: {place.hazards}</Box> : null}
      </Box>
      <Box display="grid" gap="5" gridTemplateColumns={{ base: "minmax(0, 1fr)", md: "repeat(2, minmax(0, 1fr))" }}>
        {compositions.map(({ brief, outlook, facts }) => (
          <Box as="article" key={brief.id} aria-label={brief.name} bg="panel" borderWidth="1px" borderColor="line">
            {outlook?.view ? (
              <Box p="2" h="300px">
                <View framing={outlook.view} small bare label={brief.name} />
              </Box>
            ) : null}
            <Flex direction="column" gap="1" px="3" pb="3" pt={outlook?.view ? "0" : "3"}>
              <chakra.h2 fontSize="17px" fontWeight="700">
                {brief.name}
              </chakra.h2>
              {outlook ? <Box fontWeight={outlook.next_light ? "600" : "400"}>{outlook.said}</Box> : null}
              {facts.map((fact) => (
                <Box key={fact} color="muted" fontSize="14px">
                  {fact}
                </Box>
              ))}
            </Flex>
          </Box>
        ))}
      </Box>
    </Page>
  );
}
