package line.skerry.sailing;

import java.util.Map;
import line.skerry.Berth10;
import line.skerry.Zone;
import line.skerry.Berth2;
import line.skerry.berthing.Quay;
import java.util.List;
import static java.util.Map.entry;
import javax.inject.Inject;

class Tide {}
