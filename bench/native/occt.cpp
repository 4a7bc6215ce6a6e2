// Times STEP import and mass properties of the kernel built natively, to compare the one in WebAssembly with.
// Usage: occt RUNS FILE...   Prints one JSON object a line.
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <string>
#include <vector>

#include <BRepAdaptor_Surface.hxx>
#include <BRepGProp.hxx>
#include <GProp_GProps.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPControl_Reader.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shape.hxx>

namespace {
using Clock = std::chrono::steady_clock;
constexpr double kGoal = 1e-6;

double millis(Clock::time_point from) { return std::chrono::duration<double, std::milli>(Clock::now() - from).count(); }

double median(std::vector<double> times) {
  std::sort(times.begin(), times.end());
  return times[times.size() / 2];
}

TopoDS_Shape read(const char *path) {
  STEPControl_Reader reader;
  if (reader.ReadFile(path) != IFSelect_RetDone) return {};
  reader.TransferRoots();
  return reader.OneShape();
}

struct Properties {
  GProp_GProps volume, area;
};

// The same calls as core/kernel/analyze.ts makes.
Properties measure(const TopoDS_Shape &shape) {
  bool quadric = true;
  for (TopExp_Explorer it(shape, TopAbs_FACE); it.More(); it.Next()) {
    const auto kind = BRepAdaptor_Surface(TopoDS::Face(it.Current())).GetType();
    quadric = quadric && (kind == GeomAbs_Plane || kind == GeomAbs_Cylinder || kind == GeomAbs_Cone);
  }
  Properties found;
  if (quadric) {
    BRepGProp::VolumeProperties(shape, found.volume, false, false, false);
    BRepGProp::SurfaceProperties(shape, found.area, false, false);
  } else {
    BRepGProp::VolumeProperties(shape, found.volume, kGoal, false, false);
    BRepGProp::SurfaceProperties(shape, found.area, kGoal, false);
  }
  return found;
}
}  // namespace

int main(int argc, char **argv) {
  Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
  const int runs = argc > 1 ? std::atoi(argv[1]) : 1;
  for (int i = 2; i < argc; i++) {
    std::vector<double> imports, masses;
    TopoDS_Shape shape;
    Properties found;
    for (int run = -2; run < runs; run++) {
      auto start = Clock::now();
      shape = read(argv[i]);
      if (run >= 0) imports.push_back(millis(start));
      start = Clock::now();
      found = measure(shape);
      if (run >= 0) masses.push_back(millis(start));
    }
    const gp_Pnt c = found.volume.CentreOfMass();
    const gp_Mat m = found.volume.MatrixOfInertia();
    std::printf("{\"importMs\":%.4f,\"massMs\":%.4f,\"volumeMm3\":%.17g,\"areaMm2\":%.17g,\"centroidMm\":[%.17g,%.17g,%.17g],"
                "\"momentsMm5\":[%.17g,%.17g,%.17g]}\n",
                median(imports), median(masses), found.volume.Mass(), found.area.Mass(), c.X(), c.Y(), c.Z(), m(1, 1),
                m(2, 2), m(3, 3));
    std::fflush(stdout);
  }
}
