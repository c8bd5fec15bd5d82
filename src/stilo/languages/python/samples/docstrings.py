class Sailing:
      """One crossing.

      It has a berth at each end.
        And a deck.
      """
