import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";

import { api, ask } from "../api/client";
import { loosePicturesQuery, matchesQuery, renew } from "../api/queries";
import type { Matched, Picture } from "../api/types";
import { PHOTOGRAPHS } from "../shell/FileButton";
import { notify, notifyTrouble } from "../shell/notices";
import { Progress } from "../shell/Progress";
import { Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";
import { Word } from "../words/Word";
import { useBringing } from "./bringing";
import { Bundle } from "./Bundle";
import { letGo } from "./letGo";
import { OwnTake } from "./OwnTake";
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
      {loose.data.length > 0 ? (
        <Loose pictures={loose.data} going={bringing.going} />
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

/** Pictures of no take yet: those that fit a sequence, then the others as they were taken together. */
function Loose({ pictures, going }: { pictures: readonly Picture[]; going: boolean }) {
  const matches = useQuery({ ...matchesQuery, enabled: !going });
  const byId = new Map(pictures.map((one) => [one.id, one]));
  const of = (ids: readonly string[]) => ids.map((id) => byId.get(id)).filter((one) => one !== undefined);
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
        undo: () =>
          letGo(
            one.pictures.map((p) => p.picture_id),
            one.take_id ? null : made.take_id,
          ),
      });
      void go(`/logbook/${made.take_id}`);
    },
    onError: notifyTrouble,
  });
  if (matches.isError) return <Trouble error={matches.error} again={() => void matches.refetch()} />;
  if (!matches.data) return <Loading what="what they are of" />;
  const { matched, groups, clock_text, clock_off_s } = matches.data;
  const left = groups.reduce((sum, one) => sum + one.pictures.length, 0);
  const later = pictures.length - left - matched.reduce((sum, one) => sum + one.pictures.length, 0);
  return (
    <Box mt="5" data-testid="matches">
      <chakra.h2 fontSize="18px" fontWeight="700" mb="1">
        What they are of
      </chakra.h2>
      {matched.length === 0 ? (
        <Box color="muted">They fit no sequence that was planned or carried out about that time.</Box>
      ) : (
        <Box mb="2">{clock_text}</Box>
      )}
      {matched.map((one) => (
        <Bundle
          key={one.sequence_id}
          pictures={of(one.pictures.map((p) => p.picture_id))}
          title={one.composition_name}
          told={`${one.place_name}, ${one.when_text} · ${one.told}${one.sure ? "" : " · not certain: look before you take it on"}`}
        >
          <Button variant="outline" loading={take.isPending} onClick={() => take.mutate(one)}>
            {one.take_id ? "Put them in this take" : "Make a take of them"}
          </Button>
        </Bundle>
      ))}
      {groups.length > 0 ? (
        <>
          <chakra.h2 fontSize="18px" fontWeight="700" mt="6" mb="1">
            <Word of="picture">Pictures</Word> of no take yet ({left})
          </chakra.h2>
          <Box color="muted" mb="2">
            Put together as they were taken, by the camera&rsquo;s clock.
          </Box>
          {groups.map((one) => (
            <Bundle key={one.pictures[0]} pictures={of(one.pictures)} title={one.when_text} told={one.told}>
              <OwnTake group={one} clockOff={clock_off_s} />
            </Bundle>
          ))}
          {later > 0 ? (
            <Box mt="3" color="muted">
              {later} more, taken later, come when some of these are in takes.
            </Box>
          ) : null}
        </>
      ) : null}
    </Box>
  );
}
