import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { api, ask } from "../api/client";
import { renew, sharesQuery } from "../api/queries";
import type { Share } from "../api/types";
import { notifyTrouble } from "../shell/notices";
import { Empty, Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";

function Rows({ title, rows, theirs }: { title: string; rows: Share[]; theirs: boolean }) {
  const end = useMutation({
    mutationFn: (id: string) => ask(api.DELETE("/api/shares/{id}", { params: { path: { id } } })),
    onSettled: () => renew("shares"),
    onError: notifyTrouble,
  });
  if (rows.length === 0) return null;
  return (
    <Box as="section" aria-label={title} mb="8" maxW="48rem">
      <chakra.h2 fontSize="17px" fontWeight="700" mb="1">
        {title}
      </chakra.h2>
      <Box as="ul" listStyleType="none">
        {rows.map((one) => (
          <Flex as="li" key={one.id} align="center" gap="3" py="8px" borderBottomWidth="1px" borderColor="line" wrap="wrap">
            <Box flex="1" minW="12rem">
              {theirs ? (
                <Link to={`/shared/${one.id}`} style={{ fontWeight: 600, textDecoration: "underline" }}>
                  {one.name}
                </Link>
              ) : (
                <Box as="span" fontWeight="600">
                  {one.name}
                </Box>
              )}
              <Box color="muted" fontSize="13px">
                {one.kind}, {theirs ? `from ${one.person}` : `with ${one.person}`}
                {one.may_copy ? ", may be copied" : ""}
              </Box>
            </Box>
            <Button size="sm" variant="outline" aria-label={`End: ${one.name}`} onClick={() => end.mutate(one.id)}>
              {theirs ? "See it no more" : "End"}
            </Button>
          </Flex>
        ))}
      </Box>
    </Box>
  );
}

/** What others let one look at, and what one lets others look at. */
export default function SharedPage() {
  const shares = useQuery(sharesQuery);
  return (
    <Page title="Shared" intro="Places and compositions that you let others see, and they you.">
      {shares.isError && !shares.data ? <Trouble error={shares.error} again={() => void shares.refetch()} /> : null}
      {!shares.data && !shares.isError ? <Loading what="what is shared" /> : null}
      {shares.data && shares.data.mine.length + shares.data.theirs.length === 0 ? (
        <Empty title="Nothing is shared yet">
          Share a composition or a place from behind its three dots, on Home or under Places.
        </Empty>
      ) : null}
      <Rows title="From others" rows={shares.data?.theirs ?? []} theirs />
      <Rows title="By you" rows={shares.data?.mine ?? []} theirs={false} />
    </Page>
  );
}
