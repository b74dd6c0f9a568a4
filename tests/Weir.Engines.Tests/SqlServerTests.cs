using CsCheck;
using Microsoft.SqlServer.TransactSql.ScriptDom;
using Shouldly;
using Weir.Core.Planning;
using Weir.Core.Sql;

namespace Weir.Engines.Tests;

/// <summary>No SQL Server runs here: what is printed for it is read by Microsoft's own parser.</summary>
public sealed class SqlServerTests
{
    [Fact]
    public void Its_SQL_is_TransactSQL() =>
        Gen.Int[0, int.MaxValue]
            .Sample(
                seed =>
                {
                    foreach (var sql in DifferentialTests.Statements(new Random(seed), new SqlServer.SqlServerDialect(DayOfWeek.Sunday)))
                    {
                        new TSql160Parser(initialQuotedIdentifiers: true).Parse(new StringReader(sql.Text), out var faults);
                        faults.ShouldBeEmpty($"{string.Join("; ", faults.Select(f => $"{f.Line}:{f.Column} {f.Message}"))}\n{sql.Text}");
                    }
                },
                iter: 400,
                print: s => $"seed {s}"
            );

    [Fact]
    public void Its_catalog_is_TransactSQL()
    {
        var source = Engines
            .ByName("sqlserver")
            .Open(
                new Core.Definitions.Source("s", "S", "sqlserver", new(1, 1, 1, 100))
                {
                    Server = new("h", null, "d", "u", null, null, true, null),
                },
                EngineFolders.Under(".")
            );
        foreach (
            var sql in new[]
            {
                source.Catalog.Tables(),
                source.Catalog.Columns("dbo", "t"),
                source.Catalog.References("dbo", "t"),
                source.Catalog.MayWrite()!,
            }
        )
        {
            new TSql160Parser(initialQuotedIdentifiers: true).Parse(new StringReader(sql.Text), out var faults);
            faults.ShouldBeEmpty(sql.Text);
        }
    }
}
