switch (tide) {
    case LOW:
        wait();
        break;
    default:
        moor();
}
