#pragma once
#include <QByteArray>
#include <QFile>

/// All that a file holds; empty when it cannot be read.
[[nodiscard]] inline QByteArray contents(const QString& path)
{
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}
