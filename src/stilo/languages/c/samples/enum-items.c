enum tide { LOW, HIGH };
enum deck {
    LOWER,


    UPPER,
};
enum harbour { SKERRY_LINE_NORTH_QUAY, SKERRY_LINE_SOUTH_QUAY, SKERRY_LINE_OUTER };
