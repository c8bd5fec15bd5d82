package line.skerry.sailing;

import java.util.List;
import java.util.Map;

class Tide { List<String> names; }
