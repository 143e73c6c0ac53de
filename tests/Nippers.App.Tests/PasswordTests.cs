using Nippers.App.People;

namespace Nippers.App.Tests;

/// <summary>Which passwords are guessed first.</summary>
public sealed class PasswordTests
{
    [Theory]
    [InlineData("password12", true)]
    [InlineData("P4ssw0rd!!", true)]
    [InlineData("Welcome2026", true)]
    [InlineData("qwertyuiop", true)]
    [InlineData("poiuytrewq", true)]
    [InlineData("1234567890", true)]
    [InlineData("0987654321", true)]
    [InlineData("aaaaaaaaaaaa", true)]
    [InlineData("abcabcabcabc", true)]
    [InlineData("passwordpassword", true)]
    [InlineData("iloveyou123!", true)]
    [InlineData("sunshine.2024", true)]
    [InlineData("excavator#1", true)]
    [InlineData("changeme!!", true)]
    [InlineData("letmein2026", true)]
    [InlineData("2026-11-29", true)]
    [InlineData("ollery12345", true)]
    [InlineData("TamOllery1", true)]
    [InlineData("tam.ollery!", true)]
    [InlineData("spring tide", false)]
    [InlineData("low water mark", false)]
    [InlineData("neap tide 4 knots", false)]
    [InlineData("Ollery digs a long trench", false)]
    [InlineData("kx7!mmQ2vLpw", false)]
    public void A_password_that_is_guessed_first_is_known_as_one(string password, bool common) =>
        Assert.Equal(common, CommonPasswords.Are(password, "tam", "Tam Ollery"));

    [Fact]
    public void A_person_without_names_is_no_reason_to_refuse() => Assert.False(CommonPasswords.Are("low water mark", null, "", "  "));
}
