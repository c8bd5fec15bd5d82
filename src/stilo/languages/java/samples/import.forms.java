package line.skerry.sailing;

import static java.util.Map.entry;
import java.util.List;
import java.util.Map;
import java.util.Set;

class Tide {}
