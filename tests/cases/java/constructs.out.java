package line.skerry;

import static java.util.Map.*;

@FunctionalInterface
interface Ramp<T extends Object & Comparable<? super T>> extends Door, Hinge<T> {
    int DEFAULT = 1;
    void lower(T t) throws Stuck;

    default <R> R raise(java.util.function.Function<T, R> f) {
        return f.apply(null);
    }

    static void horn() {}
}

@interface Inspected {
    String value() default "never";
    Class<?>[] by() default {};
}

abstract non-sealed class Deck<@Nullable K, V extends Ramp<K>> extends Hull implements Ramp<K> {
    static {
        load();
    }

    {
        init();
    }

    abstract int lanes();
    native void steer();
    transient volatile int a, b = 2, c[];;

    Deck(int... lanes) {
        this(lanes, null);
    }

    <T> Deck(T t) {
        <T>super(t);
    }

    void all() throws Exception {
        int i = - -x + ++y - --z;
        boolean not = !(a instanceof String s && s.isEmpty()) ^ ~i > 0;
        i <<= 2;
        i >>>= 1;
        long big = (long) (int) x;
        Object o = (Runnable & java.io.Serializable) () -> {};
        int[][] grid = new int[3][];
        int last = grid[0][grid.length-1];
        var f = (java.util.function.IntBinaryOperator) (p, q) -> p + q;
        Deck.this.all();
        outer.new Inner() {};
        java.util.function.Supplier<int[]> g = int[]::new;
        List<Map<String, List<Integer>>> deep = new ArrayList<>();
        List<?>[] raw;
        Class<?> k = int[].class;
        char ch = '\'';
        for (;;)
            break;
        for (final var v : deep)
            continue;
        do
            i++;
        while (i < 9);
        while (true);
        if (a) {} else {}
        label:
        {
            break label;
        }
        synchronized (this) {}
        throw new IllegalStateException();
    }

    int day(Object o) {
        switch (o) {
            case 1, 2 -> one();
            case 3 -> {
                two();
            }
            default -> throw new X();
        }
        return switch (o) {
            case 4:
                yield 5;
            case null:
            default:
                yield 6;
        };
    }

    boolean same(Object o) {
        return o instanceof Point(int x, var y) && x == y;
    }
}
