package line.skerry.sailing;

import java.time.*;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import static java.util.stream.Collectors.groupingBy;

/**
 * One sailing between two harbours of Skerry Line.
 *
 * <p>Inherited from the berth planner of 2011; nobody dares to touch it.
 */
@Entity(name = "sailing")
@Table(
        name = "sailing",
        indexes = {@Index(columnList = "departure"), @Index(columnList = "berth_id")})
public class Sailing extends Voyage<Harbour, Harbour>
        implements Comparable<Sailing>, Bookable, AutoCloseable {
    public static final int MAX_LANES = 14;
    private static final String[] DECKS = {
        "upper", "main", "lower", "bicycle shelf", "trailer deck", "crew"
    }; // from bow to stern
    @Inject private TicketOffice office;
    @Column(nullable = false, name = "departs_at") private ZonedDateTime departure;
    private final Map<Integer, List<Vehicle>> lanes = new java.util.TreeMap<>();
    double[][] tide = {{0.4, 1.2}, {0.6, 1.9}, /* spring tide */ {0.9, 2.4}};

    enum Status {
        PLANNED("planned"),
        BOARDING("boarding") {
            @Override
            boolean open() {
                return true;
            }
        },
        UNDER_WAY("under way"),
        MOORED("moored"),
        CANCELLED("cancelled because of the weather");

        private final String label;

        Status(String label) {
            this.label = label;
        }

        boolean open() {
            return false;
        }
    }

    record Berth(int number, String harbour, double depthInMetres) {
        Berth {
            if (number < 1)
                throw new IllegalArgumentException("berth numbers of " + harbour
                        + " begin at one, but " + number + " was given");
        }
    }

    sealed interface Fare permits Single, Return, Season {}

    record Single(long pence) implements Fare {}

    record Return(long pence, Duration validFor) implements Fare {}

    record Season(long pence, LocalDate from, LocalDate until) implements Fare {}

    public Sailing(
            Harbour from,
            Harbour to,
            ZonedDateTime departure,
            TicketOffice office,
            boolean carriesDangerousGoods)
            throws UnknownHarbourException, BerthTakenException {
        super(from, to);
        this.departure = departure;
        this.office = office; // set again by the container
    }

    /* package */ Status status() {
        if (departure == null)
            return Status.CANCELLED;
        else if (departure.isAfter(ZonedDateTime.now().plusMinutes(45))
                        && !office.hasClosedFor(this)
                || office.isManual() && departure.getHour() > 4) {
            return Status.PLANNED;
        } else {
            // boarding begins when the ramp is down
            return office.ramp().isDown() ? Status.BOARDING
                    : office.ramp().isMoving() ? Status.PLANNED
                    : Status.UNDER_WAY;
        }
    }

    public long fareFor(Fare fare) {
        return switch (fare) {
            case Single s -> s.pence();
            case Return r when r.validFor().toDays() > 30 -> r.pence() * 2;
            case Return r -> {
                var discount = office.discount(r);
                yield r.pence() - discount;
            }
            default -> 0;
        };
    }

    public List<Vehicle> loadingOrder(List<Booking> bookings, final int lanesInUse) {
        List<Vehicle> order = bookings.stream()
                .filter(b -> b.isPaid() && !b.isCancelled())
                .map(Booking::vehicle)
                .filter(java.util.Objects::nonNull)
                .sorted(
                        java.util.Comparator.comparing(Vehicle::height)
                                .reversed()
                                .thenComparing(Vehicle::length))
                .toList();
        for (int i = 0, lane = 0; i < order.size(); i++, lane = (lane+1) % lanesInUse)
            lanes.computeIfAbsent(lane, key -> new java.util.ArrayList<>()).add(order.get(i));
        for (Vehicle v : order)
            if (v.height() > 4.2)
                office.warn("vehicle " + v.plate() + " is " + v.height()
                        + " m high and must stand on the trailer deck of " + this);
            else
                continue;
        return order;
    }

    public void announce(Speaker speaker) {
        speaker.say("Skerry Line", language -> {
            if (language.equals("gd")) {
                return "Fàilte air bòrd";
            }
            /* the crew insists */ return "Welcome aboard";
        });
        office.onChange(new ChangeListener() {
            @Override
            public void changed(Booking before, Booking after) {
                audit(before, after);
            }

            private void audit(Booking before, Booking after) {
                log.info(
                        "booking {} changed lane from {} to {} by {}",
                        before.number(),
                        before.lane(),
                        after.lane(),
                        after.changedBy().orElse("the night watch"));
            }
        });
        new Thread(() -> speaker.repeat()).start();
        Runnable horn = () -> {};
        String notice = """
            The café closes
              twenty minutes before mooring.
            """;
        speaker.show(notice, Duration.ofMinutes(20));
    }

    int freeLaneMetres(int deck) {
        int total = 0;
        outer:
        for (;;) {
            switch (deck) {
                case 0:
                case 1:
                    total += MAX_LANES * 40;
                    break;
                case 2: {
                    total += MAX_LANES*25 - (int) (reserved() * 1.05);
                    break;
                }
                default:
                    total = -1;
            }
            do {
                total -= occupied(deck) << 1;
            } while (total > 1000);
            while (total < 0)
                total += office.overbooking();
            if (total > 0)
                break outer;
        }
        assert total >= 0
                : "deck " + deck + " of " + this + " has " + total
                        + " lane metres left, which cannot be";
        synchronized (lanes) {
            lanes.merge(deck, List.of(), (a, b) -> a);
        }
        return total;
    }

    @Override
    @SuppressWarnings({"unchecked", "rawtypes"})
    public int compareTo(final Sailing other) {
        return departure.compareTo(other.departure);
    }

    static <K extends Comparable<K>, V> Map<K, List<V>> byKey(
            List<? extends V> values, Function<? super V, ? extends K> key) {
        return values.stream().collect(
                groupingBy(key, java.util.TreeMap::new, java.util.stream.Collectors.toList()));
    }

    @Override
    public void close() throws Exception {
        try (var log = office.openLog(this); Connection line = office.connect("quay", 8080)) {
            line.send(log.tail(25));
        } catch (TideException | RampException e) {
            throw new IllegalStateException("could not close the log of " + this, e);
        } finally {
            lanes.clear();
        }

        // nothing else to do
    }

    int cars = 0, vans = 0; // counted at the ramp
    long faresTaken = 0; // in pence
    private Duration delay = Duration.ZERO;
    String remark;

    public boolean isLate() {
        return delay.compareTo(Duration.ofMinutes(10)) > 0;
    }

    public long earned() {
        return faresTaken;
    }
}
