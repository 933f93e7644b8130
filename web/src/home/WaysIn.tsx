import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";

import { api, ask } from "../api/client";
import { picturesQuery, renew, valleyQuery } from "../api/queries";
import { View } from "../instruments/View";
import { notifyTrouble } from "../shell/notices";
import { paint } from "../theme/system";

const refresh = () => renew("places", "compositions", "kit", "terrains", "tracks", "takes", "valley");

/** The demo valley, loaded and taken away by one press each. */
export function useValley() {
  const valley = useQuery(valleyQuery);
  const put = useMutation({
    mutationFn: async (on: boolean) => ask(on ? api.PUT("/api/beginnings/valley") : api.DELETE("/api/beginnings/valley")),
    onSuccess: refresh,
    onError: notifyTrouble,
  });
  return {
    offered: valley.data?.offered ?? false,
    loaded: valley.data?.loaded ?? false,
    busy: put.isPending,
    load: () => put.mutate(true),
    remove: () => put.mutate(false),
  };
}

function Way({ title, children, picture, action }: { title: string; children: ReactNode; picture: ReactNode; action: ReactNode }) {
  return (
    <Flex as="section" aria-label={title} direction="column" bg="panel" borderWidth="1px" borderColor="line">
      <Box h={{ base: "110px", md: "150px" }} p="10px" overflow="hidden" aria-hidden="true">
        {picture}
      </Box>
      <Flex direction="column" flex="1" px="4" pb="4" gap="2">
        <chakra.h2 fontSize="17px" fontWeight="700">
          {title}
        </chakra.h2>
        <Box color="muted" flex="1">
          {children}
        </Box>
        {action}
      </Flex>
    </Flex>
  );
}

function Go({ to, children }: { to: string; children: ReactNode }) {
  return (
    <Button asChild variant="outline" size="md">
      <Link to={to}>{children}</Link>
    </Button>
  );
}

const FRAMED = (
  <svg viewBox="0 0 200 130" width="100%" height="100%">
    <rect x="24" y="12" width="152" height="106" fill={paint("raised")} stroke={paint("muted")} strokeWidth="2" />
    <path d="M34 96 84 46l30 28 20-18 32 40z" fill={paint("tone2")} />
    <path d="M34 96h132v12H34z" fill={paint("tone3")} />
    <circle cx="134" cy="36" r="9" fill={paint("raised")} stroke={paint("ink")} strokeWidth="1.500" />
    <path d="M34 22h22M34 28h14" stroke={paint("ink")} strokeWidth="2" />
  </svg>
);
const MAPPED = (
  <svg viewBox="0 0 200 130" width="100%" height="100%" fill="none" stroke={paint("muted")} strokeWidth="2">
    <path d="M20 92c30-10 40-58 84-58s60 34 76 30M20 108c40-6 52-54 86-54s44 34 74 32M30 122c40-4 48-48 78-48s36 30 70 28" />
    <path d="M106 62V30" stroke={paint("rust")} strokeWidth="3" />
    <path d="m106 30 22 8-22 8z" fill={paint("rust")} stroke="none" />
    <circle cx="106" cy="62" r="4" fill={paint("rust")} stroke="none" />
  </svg>
);

/** Four ways to a first picture, side by side. */
export function WaysIn() {
  const pictures = useQuery(picturesQuery);
  const valley = useValley();
  const view = (id: string) => {
    const found = pictures.data?.find((one) => one.id === id);
    return found ? <View framing={found.view} small bare /> : null;
  };
  return (
    <Box
      display="grid"
      gridTemplateColumns={{ base: "1fr", sm: "1fr 1fr", xl: `repeat(${valley.offered ? 4 : 3}, 1fr)` }}
      gap="4"
      data-testid="ways-in"
    >
      <Way title="From a kind of picture" picture={view("rock_and_hill")} action={<Go to="/begin">Choose one</Go>}>
        Near rock and far hill, running water, a flower close up: a scene that you drag into place.
      </Way>
      <Way title="From a photograph" picture={FRAMED} action={<Go to="/begin/photograph">Choose a photograph</Go>}>
        What it tells of time, position, camera and lens becomes a composition, with the picture under the view.
      </Way>
      <Way title="From a place on the map" picture={MAPPED} action={<Go to="/map?place=new">Open the map</Go>}>
        Point at where you stand; paths, heights and terrain files go there too.
      </Way>
      {valley.offered ? (
        <Way
          title="Beside the demo valley"
          picture={view("wide_valley")}
          action={
            <Button variant="outline" size="md" loading={valley.busy} onClick={valley.loaded ? valley.remove : valley.load}>
              {valley.loaded ? "Take the valley away" : "Load the valley"}
            </Button>
          }
        >
          An invented valley with ten compositions and a logbook to look around in. It goes again by one press.
        </Way>
      ) : null}
    </Box>
  );
}
