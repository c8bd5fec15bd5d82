namespace skerry { namespace { int hidden; } inline namespace v2 { } namespace q = quay::inner;
template <typename T,class U=int,int N = 4,typename... More> class Berth final:public Base<T>,private virtual Other { public: Berth(int lane):lane_(lane),depth_{2} { moor(); } virtual ~Berth()=default; explicit operator bool() const noexcept { return true; } T*get() const override; static constexpr int kMost=3; Berth(const Berth&)=delete; Berth&operator=(Berth&&other) noexcept; bool operator()(int a)const; T&operator[](int i); protected: friend class Harbour; using Base<T>::Base; typedef int lane_t; enum { A,B }; mutable int lane_; union { int a; }; private: std::vector<std::pair<int,T>> depth_; unsigned open:1; int (*tell_)(int); };
enum class Tide:uint8_t{ Low,High };
template <> void sail<int>(int&&tide) { auto tell=[=,&tide](int lane) mutable -> int { return lane+tide; }; for(auto&e:depths_) { std::cout<<e<<"m"<<std::endl; } try { throw std::runtime_error("ashore"); } catch(const std::exception&e) { } catch(...) { } if(auto it=lanes.find(1);it!=lanes.end()) return; if constexpr (N>1) {} delete[] names; delete name; new (place) Berth{1,2}; auto p=new int[4]; static_cast<int>(tide); using Lanes=std::vector<int>; std::sort(v.begin(),v.end(),[](const auto&a,const auto&b) { return a<b; }); auto [first,second]=pair; lane = tide ? a : b; int64_t x = 1'000'000; f(args...); }
template <typename... Args> void all(Args&&...args) { (tell(std::forward<Args>(args)),...); }
using namespace std; extern "C" { void plain(); }
struct Quay { int lanes:3; [[nodiscard]] int depth()&; int first=1,second{2}; };
auto level(int berth)->decltype(berth) { return berth; }
template<typename T> concept Tidal=requires(T t) { t.rise(); };
template<Tidal T> requires(sizeof(T)>1) void flood(T t);
Quay::Quay(int a):Quay(a,2){}
template class Berth<int>;
static_assert(sizeof(Quay)>4,"quays are deep");
}
const char*notice=R"x(low
  water)x"; int depths[]={1,2}; Berth north{1,2}; Berth south(3); ::skerry::moor();
