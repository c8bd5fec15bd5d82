switch (harbour) {
    case SKERRYVORE, INNER_HOLM, OUTER_HOLM, GANNET_SOUND, THE_STACK -> moor();
    case THE_STACK, HOLM -> sail();
}
