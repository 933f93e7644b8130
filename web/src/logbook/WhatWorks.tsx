import { Box, chakra, Flex, Grid } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import { seasonsQuery, worksQuery } from "../api/queries";
import type { SeasonOfTakes, WorksGroup } from "../api/types";
import { Empty, Loading, Trouble } from "../shell/states";
import { TakeCard } from "./TakeLine";

const cell = { py: "4px", pr: "10px", textAlign: "left", verticalAlign: "middle", fontSize: "13px" } as const;

function Bar({ share }: { share: number }) {
  return (
    <Box h="12px" bg="ground" borderWidth="1px" borderColor="line" minW="90px" aria-hidden="true">
      <Box h="100%" bg="moss" style={{ width: `${share * 100}%` }} />
    </Box>
  );
}

/** Ratings told apart by one thing: a bar for the mean, and what was kept. */
function Group({ group }: { group: WorksGroup }) {
  return (
    <Box bg="panel" borderWidth="1px" borderColor="line" p="3">
      <chakra.h2 fontWeight="700">{group.title}</chakra.h2>
      <Box color="muted" fontSize="12px" mb="2">
        {group.about}
      </Box>
      <chakra.table w="100%" aria-label={group.title}>
        <thead>
          <tr>
            {["", "rated", "", "kept", "takes"].map((name, i) => (
              <chakra.th key={i} {...cell} fontWeight="400" color="muted" scope="col">
                {name}
              </chakra.th>
            ))}
          </tr>
        </thead>
        <tbody>
          {group.rows.map((row) => (
            <chakra.tr key={row.name} color={row.few ? "muted" : "ink"}>
              <chakra.th {...cell} fontWeight="400" scope="row">
                {row.name}
              </chakra.th>
              <chakra.td {...cell} w="30%">
                <Bar share={row.mean} />
              </chakra.td>
              <chakra.td {...cell} whiteSpace="nowrap">
                {row.mean_text}
                {row.few && row.mean > 0 ? ", few" : ""}
              </chakra.td>
              <chakra.td {...cell} whiteSpace="nowrap">
                {row.kept_text}
              </chakra.td>
              <chakra.td {...cell} fontFamily="mono">
                {row.takes}
              </chakra.td>
            </chakra.tr>
          ))}
        </tbody>
      </chakra.table>
    </Box>
  );
}

/** What adds up: by light, water and way, and what went wrong over the years; at a place its seasons too. */
export function WhatWorks({ place }: { place: string | undefined }) {
  const works = useQuery(worksQuery(place));
  if (works.isError && !works.data) return <Trouble error={works.error} again={() => void works.refetch()} />;
  if (!works.data) return <Loading what="what works" />;
  const { rated, takes, groups, years } = works.data;
  if (rated === 0)
    return (
      <Empty title="Nothing is rated yet">
        {takes === 0 ? "Takes are written here when a sequence was carried out." : "Rate your takes, and what works shows here."}
      </Empty>
    );
  return (
    <Box data-testid="works">
      <Box color="muted" fontSize="13px" mb="3">
        {rated} of {takes} takes are rated. Kept means rated 4 or 5. What rests on fewer than five is pale.
      </Box>
      {place && <Seasons place={place} />}
      <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap="4" alignItems="start">
        {groups.map((group) => (
          <Group key={group.key} group={group} />
        ))}
        {years.some((year) => year.faults.length > 0) && (
          <Box bg="panel" borderWidth="1px" borderColor="line" p="3">
            <chakra.h2 fontWeight="700">What went wrong, by year</chakra.h2>
            <Box color="muted" fontSize="12px" mb="2">
              In so many of a hundred takes of that year.
            </Box>
            {years.map((year) => (
              <Box key={year.year} mb="2">
                <Box fontWeight="700" fontSize="13px">
                  {year.year}{" "}
                  <Box as="span" color="muted" fontWeight="400">
                    {year.takes} takes
                  </Box>
                </Box>
                {year.faults.length === 0 && <Box fontSize="13px">nothing</Box>}
                {year.faults.slice(0, 6).map((one) => (
                  <Flex key={one.fault} gap="3" align="center" fontSize="13px" py="1px">
                    <Box w="170px">{one.fault}</Box>
                    <Box flex="1">
                      <Bar share={one.share} />
                    </Box>
                    <Box w="36px" textAlign="right" fontFamily="mono">
                      {Math.round(one.share * 100)}
                    </Box>
                  </Flex>
                ))}
              </Box>
            ))}
          </Box>
        )}
      </Grid>
    </Box>
  );
}

function Season({ one }: { one: SeasonOfTakes }) {
  return (
    <Box bg="panel" borderWidth="1px" borderColor="line" p="3" data-testid="season">
      <Flex justify="space-between" align="baseline">
        <chakra.h3 fontWeight="700">{one.season}</chakra.h3>
        <Box color="muted" fontSize="12px">
          {one.takes} {one.takes === 1 ? "take" : "takes"}
        </Box>
      </Flex>
      <Box fontSize="13px" mb="2">
        {one.takes === 0 ? "not there yet" : `${one.mean_text}, ${one.kept_text}`}
      </Box>
      {one.best.map((take) => (
        <Box key={take.id} mb="2">
          <TakeCard take={take} small />
        </Box>
      ))}
      {one.faults.slice(0, 3).map((fault) => (
        <Box key={fault.fault} fontSize="12px" color="rust">
          {fault.takes} × {fault.fault}
        </Box>
      ))}
    </Box>
  );
}

function Seasons({ place }: { place: string }) {
  const seasons = useQuery(seasonsQuery(place));
  if (seasons.isError && !seasons.data) return <Trouble error={seasons.error} again={() => void seasons.refetch()} />;
  if (!seasons.data) return <Loading what="the seasons" />;
  return (
    <Box mb="4">
      <chakra.h2 fontWeight="700" mb="2">
        The seasons here
      </chakra.h2>
      <Grid templateColumns={{ base: "1fr 1fr", lg: "repeat(4, 1fr)" }} gap="3" alignItems="start">
        {seasons.data.seasons.map((one) => (
          <Season key={one.season} one={one} />
        ))}
      </Grid>
    </Box>
  );
}
