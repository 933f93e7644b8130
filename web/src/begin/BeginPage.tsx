import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import { api, ApiError, ask } from "../api/client";
import { kitQuery, picturesQuery, placesQuery, renew, usualKitQuery } from "../api/queries";
import type { PictureOut, StarterKit } from "../api/types";
import { View } from "../instruments/View";
import { Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";
import { StarterKitFields, usualOf } from "./StarterKitFields";
import { useWhere } from "./useWhere";
import { NEW, WhereFields } from "./WhereFields";

type Picture = PictureOut["id"] | "empty";

const Tile = chakra("button", {
  base: {
    textAlign: "left",
    bg: "panel",
    borderWidth: "1px",
    borderColor: "line",
    cursor: "pointer",
    display: "flex",
    flexDirection: "column",
    _hover: { bg: "raised" },
  },
});

function Kind({
  chosen,
  name,
  about,
  onChoose,
  children,
}: {
  chosen: boolean;
  name: string;
  about: string;
  onChoose: () => void;
  children: React.ReactNode;
}) {
  return (
    <Tile
      type="button"
      role="radio"
      aria-checked={chosen}
      onClick={onChoose}
      boxShadow={chosen ? "inset 0 0 0 3px {colors.moss}" : "none"}
      data-testid="kind"
    >
      <Box h={{ base: "96px", md: "132px" }} w="100%" p="6px" overflow="hidden" aria-hidden="true">
        {children}
      </Box>
      <Box px="10px" pb="10px">
        <Box fontWeight="700" fontSize="15px">
          {name}
        </Box>
        <Box fontSize="12.5px" color="muted" lineHeight="1.35">
          {about}
        </Box>
      </Box>
    </Tile>
  );
}

const EMPTY = "Nothing in it yet: for a picture you know already. It opens in the next low sun.";

/** A first composition: what kind of picture, where, and with what. */
export default function BeginPage() {
  const go = useNavigate();
  const [params] = useSearchParams();
  const pictures = useQuery(picturesQuery);
  const kit = useQuery(kitQuery);
  const places = useQuery(placesQuery);
  const formats = useQuery(usualKitQuery);
  const [picture, setPicture] = useState<Picture>("rock_and_hill");
  const [place, setPlace] = useState<string | null>(params.get("place"));
  const [starter, setStarter] = useState<StarterKit | null>(null);
  const where = useWhere();
  const full = formats.data?.find((one) => one.id === "full");
  const ownKit = starter ?? (full ? usualOf(full) : null);
  const lacking = (["body", "lens", "support"] as const).some((kind) => !(kit.data ?? []).some(({ item }) => item.kind === kind));
  const chosenPlace = place ?? places.data?.[0]?.id ?? NEW;
  const begin = useMutation({
    mutationFn: async () => {
      const at = chosenPlace === NEW ? await ask(api.POST("/api/places/locate", { body: { text: where.position } })) : null;
      return await ask(
        api.POST("/api/beginnings/compositions", {
          body: {
            picture: picture === "empty" ? null : picture,
            ...(at
              ? { place: { name: where.name || "New place", latitude_deg: at.latitude_deg, longitude_deg: at.longitude_deg } }
              : { place_id: chosenPlace }),
            kit: lacking ? ownKit : null,
          },
        }),
      );
    },
    onSuccess: (made) => {
      void renew("kit", "places", "compositions");
      void go(`/compositions/${made.id}`);
    },
  });
  const failed = [pictures, kit, places, formats].find((query) => query.isError && !query.data);
  const error = begin.error instanceof ApiError ? begin.error : null;
  const wrongPosition = error?.field("/text") ?? error?.field("latitude_deg");
  if (failed)
    return (
      <Page title="A first picture">
        <Trouble error={failed.error} again={() => void failed.refetch()} />
      </Page>
    );
  return (
    <Page
      title="Begin with a kind of picture"
      intro="It comes with things in it, turned to the next good light. Then drag it into place."
    >
      {!pictures.data || !kit.data || !places.data ? (
        <Loading what="the kinds of picture" />
      ) : (
        <Box display="grid" gridTemplateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 340px" }} gap="6" alignItems="start">
          <Box
            role="radiogroup"
            aria-label="Kind of picture"
            display="grid"
            gridTemplateColumns={{ base: "repeat(2, minmax(0, 1fr))", md: "repeat(3, minmax(0, 1fr))" }}
            gap="10px"
          >
            {pictures.data.map((one) => (
              <Kind key={one.id} name={one.name} about={one.about} chosen={picture === one.id} onChoose={() => setPicture(one.id)}>
                <View framing={one.view} small bare />
              </Kind>
            ))}
            <Kind name="Empty frame" about={EMPTY} chosen={picture === "empty"} onChoose={() => setPicture("empty")}>
              <Box h="100%" borderWidth="1px" borderStyle="dashed" borderColor="muted" />
            </Kind>
          </Box>
          <Flex
            direction="column"
            gap="5"
            bg="panel"
            borderWidth="1px"
            borderColor="line"
            p="4"
            position={{ lg: "sticky" }}
            top="4"
          >
            <Box as="section" aria-label="Where">
              <chakra.h2 fontSize="16px" fontWeight="700" mb="2">
                Where
              </chakra.h2>
              <WhereFields places={places.data} chosen={chosenPlace} onChoose={setPlace} where={where} error={wrongPosition} />
            </Box>
            {lacking && formats.data && ownKit ? (
              <Box as="section" aria-label="With what">
                <chakra.h2 fontSize="16px" fontWeight="700" mb="2">
                  With what
                </chakra.h2>
                <StarterKitFields formats={formats.data} kit={ownKit} onCommit={setStarter} />
              </Box>
            ) : null}
            {error && !wrongPosition ? (
              <Box role="alert" color="rust">
                {error.problem.errors[0]?.message ?? error.problem.detail}
              </Box>
            ) : null}
            <Button variant="solid" size="md" loading={begin.isPending} onClick={() => begin.mutate()}>
              Open the workbench
            </Button>
          </Flex>
        </Box>
      )}
    </Page>
  );
}
