import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";

import { api, ask } from "../api/client";
import { loosePicturesQuery, matchesQuery, renew } from "../api/queries";
import type { Matched } from "../api/types";
import { PHOTOGRAPHS } from "../shell/FileButton";
import { notify, notifyTrouble } from "../shell/notices";
import { Progress } from "../shell/Progress";
import { Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";
import { Word } from "../words/Word";
import { useBringing } from "./bringing";
import { ContactSheet } from "./ContactSheet";
import { ServerFolder } from "./ServerFolder";

/** What came back from the camera: brought in here, and told which frames of which sequences it is. */
export default function ReviewPage() {
  const loose = useQuery(loosePicturesQuery);
  const bringing = useBringing();
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  if (loose.isError && !loose.data)
    return (
      <Page title="Review">
        <Trouble error={loose.error} again={() => void loose.refetch()} />
      </Page>
    );
  if (!loose.data) return <Loading what="the pictures" />;
  return (
    <Page
      title="Review"
      intro="Bring in what the camera took. It is told which frames of which sequences they are, what they show, and what to try next time."
    >
      <Flex
        borderWidth="2px"
        borderStyle="dashed"
        borderColor={over ? "moss" : "line"}
        bg="panel"
        p="5"
        gap="4"
        align="center"
        wrap="wrap"
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          bringing.add([...event.dataTransfer.files]);
        }}
      >
        <chakra.input
          ref={picker}
          type="file"
          multiple
          accept={`${PHOTOGRAPHS},.xmp`}
          aria-label="Pictures to bring in"
          position="absolute"
          w="1px"
          h="1px"
          opacity="0"
          onChange={(event) => {
            const files = [...(event.target.files ?? [])];
            event.target.value = "";
            if (files.length > 0) bringing.add(files);
          }}
        />
        <Button variant="solid" onClick={() => picker.current?.click()}>
          Bring pictures in
        </Button>
        <Box flex="1" minW="14rem" fontSize="14px">
          JPEG, HEIC, TIFF or camera raw, with their XMP sidecars; or drop them here. They are copied as they are, and your own
          files stay untouched.
        </Box>
      </Flex>
      <ServerFolder />
      {bringing.whole > 0 ? (
        <Box mt="3" role="status" data-testid="brought">
          {bringing.going ? (
            <Progress words={`${bringing.done} of ${bringing.whole} brought in`} share={bringing.done / bringing.whole} />
          ) : (
            <>
              {bringing.fresh} brought in
              {bringing.judged > 0 ? `, ${bringing.judged} ${bringing.judged === 1 ? "sidecar" : "sidecars"} read` : ""}
              {bringing.known > 0 ? `, ${bringing.known} were here already` : ""}
              {bringing.refused.length > 0 ? `, ${bringing.refused.length} could not be read:` : "."}
            </>
          )}
          {bringing.refused.map((one) => (
            <Box key={one.name} color="rust" fontSize="13px">
              {one.name}: {one.why}
            </Box>
          ))}
        </Box>
      ) : null}
      {loose.data.length > 0 && !bringing.going ? <Matches /> : null}
      {loose.data.length > 0 ? (
        <Box mt="6">
          <chakra.h2 fontSize="18px" fontWeight="700" mb="2">
            <Word of="picture">Pictures</Word> of no take yet ({loose.data.length})
          </chakra.h2>
          <ContactSheet pictures={loose.data} list={loosePicturesQuery.queryKey} />
        </Box>
      ) : (
        <Box mt="6" color="muted">
          Every <Word of="picture">picture</Word> that came back belongs to a take. They stand in the{" "}
          <Link to="/logbook" style={{ textDecoration: "underline" }}>
            logbook
          </Link>
          .
        </Box>
      )}
    </Page>
  );
}

/** Have pictures be loose again; a take that was made of them goes with that. */
async function letGo(one: Matched, take: string) {
  await ask(api.POST("/api/review/let-go", { body: { pictures: one.pictures.map((p) => p.picture_id) } }));
  if (!one.take_id) await ask(api.DELETE("/api/takes/{id}", { params: { path: { id: take } } }));
}

function Matches() {
  const matches = useQuery(matchesQuery);
  const go = useNavigate();
  const take = useMutation({
    mutationFn: async (one: Matched) => {
      const body = {
        sequence_id: one.sequence_id,
        take_id: one.take_id,
        clock_off_s: matches.data?.clock_off_s ?? 0,
        pictures: one.pictures,
      };
      return { one, made: await ask(api.POST("/api/review/matches", { body })) };
    },
    onSuccess: ({ one, made }) => {
      void renew("pictures", "matches", "takes");
      notify({
        title: `${one.pictures.length} pictures are in ${one.composition_name}`,
        undo: () => void letGo(one, made.take_id).then(() => renew("pictures", "matches", "takes"), notifyTrouble),
      });
      void go(`/logbook/${made.take_id}`);
    },
    onError: notifyTrouble,
  });
  if (matches.isError) return <Trouble error={matches.error} again={() => void matches.refetch()} />;
  if (!matches.data) return <Loading what="what they are of" />;
  return (
    <Box mt="5" data-testid="matches">
      <chakra.h2 fontSize="18px" fontWeight="700" mb="1">
        What they are of
      </chakra.h2>
      {matches.data.matched.length === 0 ? (
        <Box color="muted">They fit no sequence that was planned or carried out about that time.</Box>
      ) : (
        <Box mb="2">{matches.data.clock_text}</Box>
      )}
      {matches.data.matched.map((one) => (
        <Flex key={one.sequence_id} borderTopWidth="1px" borderColor="line" py="2" gap="4" align="center" wrap="wrap">
          <Box flex="1" minW="16rem">
            <Box fontWeight="600">{one.composition_name}</Box>
            <Box fontSize="13px" color="muted">
              {one.place_name}, {one.when_text} · {one.told}
              {one.sure ? "" : " · not certain: look before you take it on"}
            </Box>
          </Box>
          <Button variant="outline" loading={take.isPending} onClick={() => take.mutate(one)}>
            {one.take_id ? "Put them in this take" : "Make a take of them"}
          </Button>
        </Flex>
      ))}
    </Box>
  );
}
