# Headers of others that nearly every source includes, read once a target. Each source still includes what it uses: the
# presets with joined sources do without.
#   ingot_precompile(TARGET [store] [core_qt] [widgets] [catch])
function(ingot_precompile target)
  set(headers <algorithm> <array> <cmath> <functional> <map> <memory> <optional> <set> <string> <string_view>
    <unordered_map> <utility> <variant> <vector>)
  if("store" IN_LIST ARGN)
    list(APPEND headers <SQLiteCpp/SQLiteCpp.h>)
  endif()
  if("core_qt" IN_LIST ARGN OR "widgets" IN_LIST ARGN)
    list(APPEND headers <QCoreApplication> <QDateTime> <QObject> <QString> <QStringList> <QTimer>)
  endif()
  if("widgets" IN_LIST ARGN)
    list(APPEND headers <QAction> <QApplication> <QComboBox> <QDialog> <QGridLayout> <QHBoxLayout> <QInputDialog>
      <QKeyEvent> <QLabel> <QLineEdit> <QMouseEvent> <QPainter> <QPushButton> <QScrollArea> <QSpinBox> <QTableWidget>
      <QToolTip> <QVBoxLayout> <QWidget>)
  endif()
  if("catch" IN_LIST ARGN)
    list(APPEND headers <catch2/catch.hpp>)
  endif()
  target_precompile_headers(${target} PRIVATE ${headers})
endfunction()
