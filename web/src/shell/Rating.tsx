import { Box, chakra } from "@chakra-ui/react";

import { paint } from "../theme/system";

function Peak({ filled, size }: { filled: boolean; size: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 20 20" aria-hidden="true">
      <path
        d="M2 17L8 5l3 5 3-4 5 11Z"
        fill={filled ? paint("moss") : "none"}
        stroke={paint("moss")}
        strokeWidth="1.600"
        strokeLinejoin="round"
      />
    </svg>
  );
}

/** A rating from none to five, in peaks. */
export function Rating({
  rating,
  onRate,
  big,
}: {
  rating: number | null;
  onRate?: (rating: number | null) => void;
  big?: boolean;
}) {
  const size = big ? 40 : 18;
  if (!onRate)
    return (
      <Box as="span" role="img" aria-label={rating === null ? "not rated" : `rated ${rating} of 5`} display="inline-flex">
        {rating === null ? (
          <Box as="span" color="muted" fontSize="12px">
            not rated
          </Box>
        ) : (
          [1, 2, 3, 4, 5].map((n) => <Peak key={n} filled={n <= rating} size={size} />)
        )}
      </Box>
    );
  return (
    <Box role="group" aria-label="Rating" display="inline-flex">
      {[1, 2, 3, 4, 5].map((n) => (
        <chakra.button
          key={n}
          type="button"
          aria-label={`${n} of 5`}
          aria-pressed={rating !== null && n <= rating}
          onClick={() => onRate(rating === n ? null : n)}
          p={big ? "6px" : "2px"}
          cursor="pointer"
        >
          <Peak filled={rating !== null && n <= rating} size={size} />
        </chakra.button>
      ))}
    </Box>
  );
}
