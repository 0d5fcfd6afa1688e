#include "app/print/code128.h"

#include <memory>
#include <zint.h>

namespace ingot::app {

std::vector<bool> code128(const std::string& text) {
    const std::unique_ptr<zint_symbol, decltype(&ZBarcode_Delete)> symbol(ZBarcode_Create(), &ZBarcode_Delete);
    if (!symbol)
        return {};
    symbol->symbology = BARCODE_CODE128;
    if (ZBarcode_Encode(symbol.get(), reinterpret_cast<const unsigned char*>(text.data()),
                        static_cast<int>(text.size())) >= ZINT_ERROR)
        return {};
    std::vector<bool> modules;
    modules.reserve(static_cast<std::size_t>(symbol->width));
    for (int i = 0; i < symbol->width; ++i)
        modules.push_back((symbol->encoded_data[0][i / 8] >> (i % 8) & 1) != 0);
    return modules;
}

} // namespace ingot::app
