// Which ferry lies at which berth, and for how long.
#include <algorithm>
#include <map>
#include <string>
#include <vector>

namespace skerry { namespace quay {

template<typename Vessel,class Clock=SystemClock> class BerthPlan:public Plan<Vessel>,private Observed {
 public:
  explicit BerthPlan(std::string harbour,int berths,const Clock&clock=Clock{}):Plan<Vessel>(harbour),harbour_(std::move(harbour)),berths_(berths),clock_(clock),is_open_(true) { reset(); }
  BerthPlan(const BerthPlan&)=delete; virtual ~BerthPlan() = default;

  const std::string&harbour() const { return harbour_; }
  bool isFree(int berth,std::pair<Time,Time> stay) const noexcept override;
  template<typename Visitor> void visit(Visitor&&visitor) { for(auto&[berth,stays]:stays_) for (const auto& stay : stays) visitor(berth,stay); }
 private:
  std::string harbour_; int berths_=4;
  std::map<int,std::vector<std::pair<Time,Time> > > stays_; Clock clock_;
    bool is_open_ = false;   // to the public
};

enum class Side:unsigned char{ Port,Starboard };

template<typename Vessel,class Clock>
bool BerthPlan<Vessel,Clock>::isFree(int berth,std::pair<Time,Time> stay) const noexcept
{
  auto found=stays_.find(berth);
  if(found==stays_.end()) return true;
  return std::none_of(found->second.begin(),found->second.end(),[&](const auto&other){ return other.first<stay.second&&stay.first<other.second; });
}

std::ostream& operator<<(std::ostream&out,const Berth&berth) { return out<<"berth "<<berth.number<<" of "<<berth.harbour<<", "<<(berth.isTidal()?"with the tide only":"at any time")<<'\n'; }

void depart(Vessel&vessel,Harbour*harbour)
try {
    if(auto berth=harbour->berthOf(vessel);berth!=nullptr && !berth->isBlocked()) { berth->release(vessel).notify(vessel.owner()).log(Clock::now(),Level::Info); } else throw std::logic_error{"no berth of "+harbour->name()+" holds "+vessel.name()};
    switch (vessel.side()) { case Side::Port: vessel.turn(-1); break; case Side::Starboard: { vessel.turn(1); } default: break; }
} catch(const std::exception&error) { log(error.what()); } catch (...) { throw; }

} } // namespace skerry::quay
