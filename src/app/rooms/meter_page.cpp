#include "app/rooms/meter_page.h"

#include "app/parts/choice_row.h"
#include "app/parts/panel.h"
#include "workshop/testers.h"
#include "workshop/wording.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QSettings>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

constexpr const char* sound_key = "meter_sound";
// What a meter's ohms can be, as the choices stand.
constexpr std::array<std::optional<Quantity>, 4> methods{std::nullopt, Quantity::ac_resistance, Quantity::dc_resistance,
                                                         Quantity::resistance};

} // namespace

MeterPage::MeterPage(Workshop& workshop, BenchMeter& meter, QWidget* parent) : Page(workshop, parent), meter_(meter) {
    setObjectName(QStringLiteral("meter_page"));
    QAction* attach_it = add_command(tr("&Attach the meter"), {}, tr("Look for it at the address that is written here"),
                                     [this] { attach(); });
    QAction* tried =
        add_command(tr("&Try it"), {}, tr("Show what it measures now; nothing is kept"), [this] { try_it(); });
    add_command(tr("Forget the mete&r"), {}, tr("No meter is attached any more"), [this] {
        if (fine(meter_.attach({})))
            refresh();
    });
    add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* panel = new Panel(tr("Bench meter"), this);
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(16);
    form->setVerticalSpacing(10);
    address_ = new QComboBox(panel);
    address_->setObjectName(QStringLiteral("meter_address"));
    address_->setAccessibleName(tr("Where the meter is"));
    address_->setEditable(true);
    address_->lineEdit()->setPlaceholderText(tr("serial:PORT,SPEED or socket:PATH"));
    connect(address_->lineEdit(), &QLineEdit::returnPressed, this, [this] { attach(); });
    form->addRow(caption(tr("where"), panel), address_);
    resistance_ = new ChoiceRow({tr("not for cells"), tr("AC at 1 kHz"), tr("DC pulse"), tr("not said")}, panel);
    resistance_->setObjectName(QStringLiteral("meter_resistance"));
    connect(resistance_, &ChoiceRow::changed, this, [this](int index) {
        fine(meter_.set_resistance(methods[static_cast<std::size_t>(index)]));
        refresh();
    });
    form->addRow(caption(tr("its ohms"), panel), resistance_);
    sound_ = new QCheckBox(tr("a sound for each reading that is taken"), panel);
    sound_->setObjectName(QStringLiteral("meter_sound"));
    connect(sound_, &QCheckBox::toggled, this, [](bool on) { QSettings().setValue(QLatin1String(sound_key), on); });
    form->addRow(QString(), sound_);
    panel->body()->addLayout(form);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(new PressButton(attach_it, panel, true));
    buttons->addWidget(new PressButton(tried, panel));
    buttons->addStretch(1);
    panel->body()->addLayout(buttons);
    state_ = sentence({}, panel);
    state_->setObjectName(QStringLiteral("meter_state"));
    panel->body()->addWidget(state_);
    shown_ = new Figure(tr("it shows"), panel, 32);
    panel->body()->addWidget(shown_);
    outer->addWidget(panel);
    auto* how = new Panel(tr("With both hands at the cells"), this);
    how->body()->addWidget(sentence(
        tr("F3 takes what the meter shows as the reading that is wanted: at Test for the unit, at Rest for the unit in "
           "the list, at Triage and Prove for the group whose box is open.\n"
           "Shift+F3 follows the meter: touch a cell and hold still; the voltage is taken when it stands, and the next "
           "box is asked. Lift the probes, go on. At Test each unit is scanned before it is touched.\n"
           "A meter that sends its reading when its own button is pressed is heard without either."),
        how));
    outer->addWidget(how);
    outer->addStretch(1);
    connect(&meter_, &BenchMeter::changed, this, [this] {
        refresh();
        emit evidence_changed();
    });
    connect(&meter_.meter(), &bench::Meter::seen, this, [this](const QString& shown) {
        shown_->set(shown.isEmpty() ? QStringLiteral("–") : tr("%1 V").arg(shown));
    });
}

void MeterPage::refresh() {
    if (!address_->lineEdit()->hasFocus()) {
        const QString now = QString::fromStdString(meter_.address());
        address_->clear();
        if (!now.isEmpty())
            address_->addItem(now);
        for (const std::string& port : device_ports())
            if (port != meter_.address())
                address_->addItem(QString::fromStdString(port));
        address_->setCurrentIndex(now.isEmpty() ? -1 : 0);
    }
    const auto at = std::find(methods.begin(), methods.end(), meter_.resistance());
    resistance_->choose(static_cast<int>(at - methods.begin()));
    resistance_->setEnabled(workshop().writable());
    sound_->setChecked(QSettings().value(QLatin1String(sound_key), false).toBool());
    state_->setText(meter_.words());
    if (meter_.meter().state() != bench::DeviceState::ready)
        shown_->set(QStringLiteral("–"));
}

void MeterPage::attach() {
    if (!fine(meter_.attach(address_->currentText().trimmed().toStdString())))
        return;
    address_->lineEdit()->clearFocus();
    refresh();
}

void MeterPage::try_it() {
    meter_.read(Quantity::voltage, 0, [this, page = QPointer<MeterPage>(this)](const auto& reading) {
        if (page == nullptr)
            return;
        if (reading)
            shown_->set(tr("%1 V").arg(QString::fromStdString(reading.value().shown)));
        else
            emit told(meter_.meter().state() == bench::DeviceState::ready ? wording::problem(reading.problem())
                                                                          : meter_.words(),
                      true);
    });
}

bool MeterPage::take_line(const QString& line) {
    if (!line.startsWith(QStringLiteral("serial:")) && !line.startsWith(QStringLiteral("socket:")))
        return line.isEmpty();
    if (fine(meter_.attach(line.toStdString())))
        refresh();
    return true;
}

EvidenceContent MeterPage::evidence() const {
    EvidenceContent content;
    content.subject = tr("Bench meter");
    content.verdict = QString::fromStdString(meter_.meter().name());
    content.line = meter_.words();
    const auto method = meter_.resistance();
    content.notes
        << (method == Quantity::ac_resistance
                ? tr("Its ohms are kept as AC at 1 kHz, and compared with those of the same kind only.")
            : method == Quantity::dc_resistance
                ? tr("Its ohms are kept as those of a DC pulse, and compared with those of the same kind only.")
            : method == Quantity::resistance
                ? tr("Nobody says by which method it reads ohms: they are compared with its own only.")
                : tr("No ohms are read with it."));
    content.caution = "meter";
    return content;
}

void MeterPage::pose() {
    refresh();
}

} // namespace ingot::app
