#pragma once
#include "casevalues.h"

#include <QFile>

#include <cctype>
#include <string>
#include <vector>

namespace cases {

/// A refusal in the capitals of the cases.
template <class T>
[[nodiscard]] T said(const ridge::Result<T>& r)
{
    if (r)
        return *r;
    std::string word = r.error().code;
    for (char& c : word)
        c = c == '-' ? '_' : static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    throw Refused{word};
}

/// Columns of a trace with a line of names.
[[nodiscard]] inline std::vector<std::vector<double>> columns(const json& name)
{
    QFile file(QStringLiteral(TRACES_DIR "/") + QString::fromStdString(name.get<std::string>()));
    if (!file.open(QIODevice::ReadOnly))
        throw Refused{"no such trace"};
    std::vector<std::vector<double>> out(static_cast<std::size_t>(file.readLine().count(',') + 1));
    while (!file.atEnd()) {
        const QList<QByteArray> cells = file.readLine().trimmed().split(',');
        for (std::size_t k = 0; k < out.size(); ++k)
            out[k].push_back(cells.at(static_cast<qsizetype>(k)).toDouble());
    }
    return out;
}

} // namespace cases
