namespace Weir.Core.Definitions;

/// <summary>What a piece of a definition file may look like. The check of the files and the JSON Schema for editors both come from it.</summary>
public abstract record Shape
{
    /// <summary>Text, or one of some words.</summary>
    public sealed record Text(params IReadOnlyList<string> Choices) : Shape
    {
        /// <summary>True if a parameter, as param.name, may stand for one of the words.</summary>
        public bool OrParameter { get; init; }
    }

    /// <summary>A whole number within limits, both included.</summary>
    public sealed record Whole(int Minimum, int Maximum) : Shape;

    /// <summary>true or false.</summary>
    public sealed record Flag : Shape;

    /// <summary>A mapping with known keys.</summary>
    public sealed record Keys(params IReadOnlyList<Key> Known) : Shape;

    /// <summary>A mapping from names that the developer chooses, or from members of the data, which may be any text.</summary>
    public sealed record MapOf(Shape Value, bool FromMembers = false) : Shape
    {
        /// <summary>True if a key may be two names, as dashboard/area.</summary>
        public bool WithParts { get; init; }
    }

    /// <summary>A list.</summary>
    public sealed record ListOf(Shape Item) : Shape;

    /// <summary>Any of several shapes; they differ in being text, list or mapping.</summary>
    public sealed record Either(params IReadOnlyList<Shape> Shapes) : Shape;
}

/// <summary>A key of a mapping.</summary>
/// <param name="Doc">One sentence for the reader of docs and editors.</param>
public sealed record Key(string Name, Shape Shape, string Doc, bool Required = false);
