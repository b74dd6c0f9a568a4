using System.Globalization;
using DuckDB.NET.Data;
using MiniExcelLibs;
using Weir.Core.Expressions;

namespace Weir.Engines.Files;

/// <summary>
/// Takes files into a database. Texts are given the type that at least 95 of 100 of their values fit; what does not fit is
/// missing from the column and is told in the table weir_unfit.
/// </summary>
internal static class FilesLoader
{
    /// <summary>Changes whenever the tables made from the same files would change.</summary>
    public const int Edition = 2;

    /// <summary>The share of a column's values that must fit a type for the column to get it.</summary>
    private const double Enough = 0.95;

    private const int MostColumns = 1000;

    private static readonly ValueKind[] Tried =
    [
        ValueKind.Integer,
        ValueKind.Decimal,
        ValueKind.Float,
        ValueKind.Boolean,
        ValueKind.Date,
        ValueKind.Timestamp,
    ];

    /// <summary>Makes the database; it appears whole or not at all.</summary>
    /// <exception cref="SourceException">A file can't be read.</exception>
    public static void Load(
        IReadOnlyList<FileInfo> files,
        string path,
        string title,
        Core.Definitions.SourceLimits limits,
        CancellationToken cancellation
    )
    {
        // Two that load the same files must not write one file.
        var unfinished = $"{path}.{Guid.NewGuid():N}.new";
        try
        {
            using (
                var connection = new DuckDBConnection(
                    "Data "
                        + $"Source={unfinished};memory_limit={limits.MemoryMb}MB;temp_directory={path}.spill;"
                        + $"max_temp_directory_size={DuckDb.DuckDbSource.SpillMegabytes}MB;"
                        + "autoinstall_known_extensions=false;autoload_known_extensions=false"
                )
            )
            {
                connection.Open();
                LoadAll(connection, files, title, cancellation);
                Run(connection, "CHECKPOINT");
            }
            File.Move(unfinished, path, overwrite: true);
        }
        catch (Exception e) when (e is DuckDBException or IOException or UnauthorizedAccessException)
        {
            throw new SourceException(
                "source-unavailable",
                $"The files of {title} can't be taken in.",
                "See whether the disk is full and the service's folder of work can be written.",
                e
            );
        }
        finally
        {
            File.Delete(unfinished);
        }
    }

    private static void LoadAll(DuckDBConnection connection, IReadOnlyList<FileInfo> files, string title, CancellationToken cancellation)
    {
        Run(connection, "CREATE TABLE weir_unfit (\"table\" VARCHAR, \"column\" VARCHAR, type VARCHAR, count BIGINT, examples VARCHAR)");
        var taken = new HashSet<string> { "weir_unfit" };
        var read = 0;
        foreach (var file in files)
        {
            cancellation.ThrowIfCancellationRequested();
            if (TryLoad(connection, file, taken))
                read++;
        }
        if (read == 0 && files.Count > 0)
            throw new SourceException(
                "source-unavailable",
                files.Count == 1
                    ? $"The file {files[0].Name} of {title} can't be read."
                    : $"None of the {files.Count} files of {title} can be read, {files[0].Name} and others.",
                "Open it in the program that made it and see whether it is whole; CSV must be UTF-8 with a heading."
            );
    }

    /// <summary>Takes one file in; one that can't be read takes only its own tables away, and is told in weir_unfit.</summary>
    private static bool TryLoad(DuckDBConnection connection, FileInfo file, HashSet<string> taken)
    {
        try
        {
            Load(connection, file, taken);
            return true;
        }
        catch (Exception e)
            when (e
                    is DuckDBException
                        or IOException
                        or InvalidDataException
                        or UnauthorizedAccessException
                        or FormatException
                        or InvalidOperationException
                        or System.Xml.XmlException
                        or ArgumentException
                        or OverflowException
                        or KeyNotFoundException
            )
        {
            Run(connection, "DROP TABLE IF EXISTS raw");
            Run(
                connection,
                $"INSERT INTO weir_unfit VALUES ({Literal(Path.GetFileNameWithoutExtension(file.Name))}, '(file)', 'file', 1, "
                    + $"{Literal($"the file {file.Name} can't be read: {e.Message.Split('\n', 2)[0]}")})"
            );
            return false;
        }
    }

    private static void Load(DuckDBConnection connection, FileInfo file, HashSet<string> taken)
    {
        var name = Path.GetFileNameWithoutExtension(file.Name);
        switch (file.Extension.ToLowerInvariant())
        {
            case ".parquet":
                Run(connection, $"CREATE TABLE {Quote(Free(name, taken))} AS SELECT * FROM read_parquet({Literal(file.FullName)})");
                break;
            case ".xlsx":
                LoadWorkbook(connection, file, name, taken);
                break;
            default:
                LoadText(connection, file, Free(name, taken));
                break;
        }
    }

    private static void LoadText(DuckDBConnection connection, FileInfo file, string table)
    {
        // Everything as text first: a type guessed from the first rows would fail or lose what comes later. Not in parallel: that
        // reader refuses a line break within a cell.
        var options =
            $"{Literal(file.FullName)}, header = true, all_varchar = true, null_padding = true, ignore_errors = true, store_rejects = "
            + "true, rejects_limit = 0, parallel = "
            + $"false{(file.Extension.Equals(".tsv", StringComparison.OrdinalIgnoreCase) ? ", delim = '\t'" : "")}";
        Run(connection, $"CREATE TEMP TABLE raw AS SELECT * FROM read_csv({options})");
        Run(
            connection,
            $"INSERT INTO weir_unfit SELECT {Literal(table)}, '(row)', 'row', count(*), string_agg('line ' || line || ': ' || "
                + "error_type, chr(10)) FROM (SELECT DISTINCT line, error_type FROM reject_errors ORDER BY line LIMIT 1000) HAVING "
                + "count(*) > 0"
        );
        Run(connection, "DROP TABLE IF EXISTS reject_errors");
        Run(connection, "DROP TABLE IF EXISTS reject_scans");
        Typed(connection, table);
    }

    private static void LoadWorkbook(DuckDBConnection connection, FileInfo file, string name, HashSet<string> taken)
    {
        foreach (var (sheet, at) in MiniExcel.GetSheetNames(file.FullName).Select((s, i) => (s, i)))
        {
            List<string>? columns = null;
            DuckDBAppender? appender = null;
            try
            {
                foreach (
                    IDictionary<string, object?> row in MiniExcel
                        .Query(file.FullName, useHeaderRow: true, sheetName: sheet)
                        .Cast<IDictionary<string, object?>>()
                )
                {
                    if (columns is null)
                    {
                        columns = [.. row.Keys.Where(k => k.Length > 0)];
                        if (columns.Count == 0)
                            break;
                        Run(connection, $"CREATE TEMP TABLE raw ({string.Join(", ", columns.Select(c => $"{Quote(c)} VARCHAR"))})");
                        appender = connection.CreateAppender("temp", "main", "raw");
                    }
                    var line = appender!.CreateRow();
                    foreach (var column in columns)
                        if (Text(row[column]) is { } text)
                            line.AppendValue(text);
                        else
                            line.AppendNullValue();
                    line.EndRow();
                }
            }
            finally
            {
                appender?.Dispose();
            }
            if (columns is { Count: > 0 })
                Typed(connection, Free(at == 0 ? name : $"{name}_{sheet}", taken));
        }
    }

    private static string? Text(object? cell) =>
        cell switch
        {
            null => null,
            string s => s,
            bool b => b ? "true" : "false",
            DateTime t => t.ToString(t.TimeOfDay == TimeSpan.Zero ? "yyyy-MM-dd" : "yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
            double d => d.ToString("R", CultureInfo.InvariantCulture),
            _ => Convert.ToString(cell, CultureInfo.InvariantCulture),
        };

    /// <summary>Makes the table from the temporary one of texts.</summary>
    private static void Typed(DuckDBConnection connection, string table)
    {
        var columns = Rows(
                connection,
                "SELECT column_name FROM duckdb_columns() WHERE table_name = 'raw' AND database_name = 'temp' ORDER BY column_index"
            )
            .Select(r => (string)r[0]!)
            .ToList();
        if (columns.Count > MostColumns)
            throw new InvalidDataException($"It has {columns.Count} columns; at most {MostColumns} are read.");
        var items = new List<string>();
        foreach (var column in columns)
        {
            var value = $"nullif(trim({Quote(column)}, ' '), '')";
            var counts = Rows(
                connection,
                $"SELECT count({value}), count(*) FILTER (WHERE regexp_matches({value}, '^[+-]?0[0-9]')), "
                    + $"{string.Join(", ", Tried.Select(k => $"count(*) FILTER (WHERE regexp_matches({value}, '{TextReading.Form(k)}'))"))} "
                    + "FROM raw"
            )[0]
                .Select(Convert.ToInt64)
                .ToList();
            var (filled, padded) = (counts[0], counts[1]);
            var kind =
                filled == 0
                    ? ValueKind.Text
                    : Tried
                        .Select((k, i) => (Kind: k, Fits: counts[i + 2]))
                        // Numbers with leading zeros are codes, and lose them as numbers.
                        .Where(k => !(k.Kind.IsNumber() && padded > 0))
                        .Where(k => k.Fits == filled || k.Fits >= Enough * filled)
                        .OrderByDescending(k => k.Fits)
                        .Select(k => k.Kind)
                        .FirstOrDefault(ValueKind.Text);
            if (kind == ValueKind.Text)
            {
                items.Add($"nullif({Quote(column)}, '') AS {Quote(column)}");
                continue;
            }
            var fits = $"regexp_matches({value}, '{TextReading.Form(kind)}')";
            var read = kind == ValueKind.Boolean ? $"{value} IN ('true', 'yes', '1')" : $"CAST({value} AS {SqlType(kind)})";
            items.Add($"CASE WHEN {fits} THEN {read} END AS {Quote(column)}");
            Run(
                connection,
                $"INSERT INTO weir_unfit SELECT {Literal(table)}, {Literal(column)}, '{kind.Name()}', count(*), string_agg(CASE WHEN n <= "
                    + $"5 THEN 'line ' || (line + 2) || ': ' || v END, chr(10)) FROM (SELECT rowid AS line, {value} AS v, row_number() OVER "
                    + $"(ORDER BY rowid) AS n FROM raw WHERE {value} IS NOT NULL AND NOT {fits}) HAVING count(*) > 0"
            );
        }
        Run(connection, $"CREATE TABLE {Quote(table)} AS SELECT {string.Join(", ", items)} FROM raw");
        Run(connection, "DROP TABLE raw");
    }

    private static string SqlType(ValueKind kind) =>
        kind switch
        {
            ValueKind.Integer => "BIGINT",
            ValueKind.Decimal => "DECIMAL(24, 6)",
            ValueKind.Float => "DOUBLE",
            ValueKind.Date => "DATE",
            _ => "TIMESTAMP",
        };

    private static string Free(string name, HashSet<string> taken)
    {
        var free = name;
        for (var i = 2; !taken.Add(free.ToLowerInvariant()); i++)
            free = $"{name}_{i}";
        return free;
    }

    private static string Quote(string name) => $"\"{name.Replace("\"", "\"\"")}\"";

    private static string Literal(string text) => $"'{text.Replace("'", "''")}'";

    private static void Run(DuckDBConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }

    private static List<object?[]> Rows(DuckDBConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        using var reader = command.ExecuteReader();
        var rows = new List<object?[]>();
        while (reader.Read())
            rows.Add([.. Enumerable.Range(0, reader.FieldCount).Select(i => reader.IsDBNull(i) ? null : reader.GetValue(i))]);
        return rows;
    }
}
